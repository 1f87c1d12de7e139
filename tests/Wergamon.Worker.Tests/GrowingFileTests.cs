using CsCheck;
using Wergamon.Testing;

namespace Wergamon.Worker.Tests;

/// <summary>A file that is read while it is written.</summary>
public sealed class GrowingFileTests : IDisposable
{
    private readonly TemporaryFolder _folder = new();
    private int _files;

    [Fact]
    public void A_follower_gets_every_byte_in_order() =>
        Gen.Select(Gen.Int[0, 5_000].Array[0, 40], Gen.Int[1, 20_000]).Sample((writes, readAtATime) =>
        {
            using var file = new GrowingFile(_folder[$"{Interlocked.Increment(ref _files)}"]);
            using var follower = file.Follow();
            var following = Task.Run(() =>
            {
                var got = new MemoryStream();
                follower.CopyTo(got, readAtATime);
                return got.ToArray();
            });
            var written = new MemoryStream();
            byte next = 0;
            foreach (int length in writes)
            {
                var piece = Enumerable.Range(0, length).Select(_ => next++).ToArray();
                written.Write(piece);
                file.Writing.Write(piece);
            }

            file.End();
            file.EndFlushing();
            Assert.Equal(written.ToArray(), following.GetAwaiter().GetResult());
        }, iter: 200);

    [Fact]
    public async Task The_header_can_be_updated_at_the_end_and_only_whole_reads_come_before()
    {
        using var file = new GrowingFile(_folder["head"]);
        using var follower = file.Follow();
        file.Writing.Write("head....body"u8);
        var first = new byte[8];
        Assert.Equal(8, follower.Read(first));
        var more = new byte[100];
        var waiting = Task.Run(() => follower.Read(more));
        file.Writing.Write(" and more"u8);
        file.Writing.Position = 4;
        file.Writing.Write("done"u8);
        file.Writing.Position = file.Writing.Length;
        Assert.False(waiting.IsCompleted);
        file.End();
        Assert.Equal("body and more", System.Text.Encoding.ASCII.GetString(more, 0, await waiting));
        Assert.Equal(0, follower.Read(more));
        Assert.Equal("headdonebody and more", File.ReadAllText(_folder["head"]));
    }

    [Fact]
    public void An_existing_file_is_not_overwritten()
    {
        File.WriteAllText(_folder["taken"], "there");
        Assert.Throws<IOException>(() => new GrowingFile(_folder["taken"]));
        Assert.Equal("there", File.ReadAllText(_folder["taken"]));
    }

    public void Dispose() => _folder.Dispose();
}
