using System.Security.Cryptography;
using Wergamon.App.Intake.Upload;
using Wergamon.App.Library.Scan;
using Wergamon.App.Tracks;

namespace Wergamon.App.Tests.Intake;

/// <summary>Files uploaded in pieces: complete or not at all, where they belong and nowhere else.</summary>
public sealed class UploadTests
{
    private const long When = 1_600_000_000_000;

    public static TheoryData<string> Refused =>
    [
        "", "/etc/x.wav", "../x.wav", "a/../../x.wav", "a/./x.wav", "a//x.wav", ".hidden.wav", ".folder/x.wav", "a/.git/x.wav",
        "line\nbreak.wav", "nul\0.wav", "half\ud800.wav",
        new string('l', 252) + ".wav", string.Concat(Enumerable.Repeat("a/", 40)) + "x.wav", "program.exe", "page.html", "noextension",
        "out/x.wav",
    ];

    [Theory]
    [MemberData(nameof(Refused))]
    public async Task Nothing_is_stored_outside_its_folder(string path)
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        await app.ScanAsync();
        Directory.CreateDirectory(app.Folder["elsewhere"]);
        Directory.CreateSymbolicLink(Path.Combine(app.Music, "out"), app.Folder["elsewhere"]);
        var answer = Assert.Single(app.Get<Uploads>().Offer(FolderOf(app), [new OfferedFile(path, 3, When)]).Files);
        Assert.Null(answer.Id);
        Assert.NotNull(answer.Refusal);
        Assert.Empty(app.Get<Uploads>().Unfinished());
        Assert.Empty(Directory.GetFiles(app.Folder["elsewhere"]));
    }

    [Fact]
    public async Task Upload_resumes_after_a_break_and_a_restart()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        await app.ScanAsync();
        var bytes = File.ReadAllBytes(app.AddTrack(1, 2));
        File.Delete(Assert.Single(Directory.GetFiles(app.Music)));
        var offered = new OfferedFile("Cavern Lanterns/Disc 1/01 Grube é.wav", bytes.Length, When);
        var uploads = app.Get<Uploads>();
        long id = Assert.Single(uploads.Offer(FolderOf(app), [offered]).Files).Id!.Value;
        Assert.Equal(ArrivalState.Partly, (await uploads.ReceiveAsync(id, 0, new MemoryStream(bytes, 0, 1000), default))!.State);
        // The connection breaks in the middle of a piece: what arrived is kept.
        using (var broken = new CancellationTokenSource())
            await Assert.ThrowsAnyAsync<OperationCanceledException>(
                () => uploads.ReceiveAsync(id, 1000, new BreakingStream(bytes.AsMemory(1000, 500), broken), broken.Token));
        Assert.Equal(
            (ArrivalState.WrongPlace, 1500L),
            await uploads.ReceiveAsync(id, 1000, new MemoryStream(bytes, 1000, 10), default) is { } wrong
                ? (wrong.State, wrong.Received)
                : default);
        Assert.Equal(offered.Path, Assert.Single(uploads.Unfinished()).Upload.Path);
        await app.ScanAsync();
        Assert.Empty(app.Get<LibraryQueries>().Albums());

        await app.StopAsync();
        await app.StartAsync();
        uploads = app.Get<Uploads>();
        var again = Assert.Single(uploads.Offer(FolderOf(app), [offered]).Files);
        Assert.Equal((id, 1500L), (again.Id, again.Received));
        // Bytes beyond the offered length are refused.
        var end = (await uploads.ReceiveAsync(id, 1500, new MemoryStream([.. bytes[1500..], 1, 2, 3]), default))!;
        Assert.Equal((ArrivalState.Done, Path.Combine(app.Music, offered.Path)), (end.State, end.FinalPath));
        Assert.Equal(SHA256.HashData(bytes), SHA256.HashData(File.ReadAllBytes(end.FinalPath!)));
        Assert.Equal(When, new DateTimeOffset(File.GetLastWriteTimeUtc(end.FinalPath!)).ToUnixTimeMilliseconds());
        Assert.Empty(uploads.Unfinished());
        Assert.Null(await uploads.ReceiveAsync(id, 0, new MemoryStream(bytes), default));
        await RunningApp.UntilAsync(() => app.Get<LibraryQueries>().Albums().Count == 1);
        Assert.Equal([Path.Combine(app.Music, "Cavern Lanterns")], Directory.GetFileSystemEntries(app.Music));
    }

    [Fact]
    public async Task Existing_files_are_neither_overwritten_nor_duplicated()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        await app.ScanAsync();
        var path = app.AddTrack(1, 1);
        var bytes = File.ReadAllBytes(path);
        Assert.Equal((ArrivalState.WasThere, path), await SendAsync(app, Path.GetFileName(path), bytes));
        var other = bytes.ToArray();
        other[^1] ^= 1;
        var second = Path.Combine(app.Music, "Night Shift 1 (2).wav");
        Assert.Equal((ArrivalState.Done, second), await SendAsync(app, Path.GetFileName(path), other));
        Assert.Equal((ArrivalState.WasThere, second), await SendAsync(app, Path.GetFileName(path), other));
        Assert.Equal(bytes, File.ReadAllBytes(path));
        // A file in place of a folder.
        Assert.Equal((ArrivalState.Refused, null), await SendAsync(app, Path.GetFileName(path) + "/x.wav", bytes));
    }

    [Fact]
    public async Task Uploads_beyond_the_free_space_are_refused_before_anything_is_sent()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        await app.ScanAsync();
        var reply = app.Get<Uploads>().Offer(FolderOf(app), [new OfferedFile("a.wav", 1L << 60, When), new OfferedFile("b.wav", 10, When)]);
        Assert.Contains("GB are free", reply.Refusal, StringComparison.Ordinal);
        Assert.Empty(reply.Files);
        Assert.Empty(app.Get<Uploads>().Unfinished());
        Assert.NotNull(app.Get<Uploads>().Offer(999, []).Refusal);
    }

    private static async Task<(ArrivalState State, string? Path)> SendAsync(RunningApp app, string name, byte[] bytes)
    {
        long id = Assert.Single(app.Get<Uploads>().Offer(FolderOf(app), [new OfferedFile(name, bytes.Length, When)]).Files).Id!.Value;
        var arrival = (await app.Get<Uploads>().ReceiveAsync(id, 0, new MemoryStream(bytes), default))!;
        return (arrival.State, arrival.FinalPath);
    }

    private static long FolderOf(RunningApp app) => app.Get<MusicFolders>().List()[0].Id;

    /// <summary>Gives its bytes, then is cancelled.</summary>
    private sealed class BreakingStream(ReadOnlyMemory<byte> bytes, CancellationTokenSource broken) : MemoryStream(bytes.ToArray())
    {
        public override async ValueTask<int> ReadAsync(Memory<byte> buffer, CancellationToken cancellationToken = default)
        {
            int got = Read(buffer.Span);
            if (got == 0)
                await broken.CancelAsync();
            cancellationToken.ThrowIfCancellationRequested();
            return got;
        }
    }
}
