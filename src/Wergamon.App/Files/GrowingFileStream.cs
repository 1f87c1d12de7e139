using Wergamon.Core.Bytes;

namespace Wergamon.App.Files;

/// <summary>
/// A file of known length that is still being written: reads ahead of the writer wait. Bytes that never arrive read as silence.
/// </summary>
/// <param name="path">Where it is written.</param>
/// <param name="length">Its length in the end, in bytes.</param>
/// <param name="written">Ends with the writing, or fails with it.</param>
internal sealed class GrowingFileStream(string path, long length, Task written) : ReadOnlyStream
{
    private static readonly TimeSpan LookEvery = TimeSpan.FromMilliseconds(15);

    private readonly FileStream _file = PlainFile.Open(path, FileMode.Open, FileAccess.Read);

    public override long Length => length;

    public override int Read(Span<byte> buffer)
    {
        var bytes = new byte[buffer.Length];
        int got = ReadAsync(bytes, CancellationToken.None).AsTask().GetAwaiter().GetResult();
        bytes.AsSpan(0, got).CopyTo(buffer);
        return got;
    }

    public override async ValueTask<int> ReadAsync(Memory<byte> buffer, CancellationToken cancellationToken = default)
    {
        int wanted = (int)Math.Min(buffer.Length, length - Position);
        if (wanted <= 0)
            return 0;
        while (true)
        {
            bool isWhole = written.IsCompleted;
            int got = await RandomAccess.ReadAsync(_file.SafeFileHandle, buffer[..wanted], Position, cancellationToken)
                .ConfigureAwait(false);
            if (got == 0 && isWhole)
            {
                await written.ConfigureAwait(false);
                buffer.Span[..wanted].Clear();
                got = wanted;
            }

            Position += got;
            if (got > 0)
                return got;
            await Task.Delay(LookEvery, cancellationToken).ConfigureAwait(false);
        }
    }

    public override Task<int> ReadAsync(byte[] buffer, int offset, int count, CancellationToken cancellationToken) =>
        ReadAsync(buffer.AsMemory(offset, count), cancellationToken).AsTask();

    protected override void Dispose(bool disposing)
    {
        if (disposing)
            _file.Dispose();
        base.Dispose(disposing);
    }
}
