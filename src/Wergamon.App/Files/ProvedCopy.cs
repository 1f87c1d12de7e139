using System.IO.Hashing;
using Microsoft.Win32.SafeHandles;

namespace Wergamon.App.Files;

/// <summary>
/// Copies to a disk and reads back from there what has arrived, past the memory of the kernel where the file system allows, in two steps,
/// so that the next copy can begin while the last one is read back.
/// </summary>
internal static class ProvedCopy
{
    private const int BlockBytes = 1 << 20;

    /// <param name="path">Of a new file, a name that nobody else takes.</param>
    /// <param name="report">Told how much is done, from 0 to 1.</param>
    /// <returns>A hash of the bytes, for <see cref="Prove"/>.</returns>
    /// <exception cref="IOException">It could not be written.</exception>
    public static byte[] Write(Stream source, string path, Action<double> report, CancellationToken cancellation)
    {
        // A file system that does not support it may still have created the file.
        using var file = DirectFile.TryCreate(path) ?? PlainFile.OpenHandle(path, FileMode.Create, FileAccess.Write);
        var hash = new XxHash128();
        var block = BlockFor(source.Length);
        long length = source.Length, done = 0;
        for (int got; (got = source.ReadAtLeast(block.Span, block.Length, throwOnEndOfStream: false)) > 0; report((double)done / length))
        {
            cancellation.ThrowIfCancellationRequested();
            hash.Append(block.Span[..got]);
            // The last page is written whole; the excess is truncated afterwards.
            int whole = WholePages(got);
            block.Span[got..whole].Clear();
            RandomAccess.Write(file, block.Span[..whole], done);
            done += got;
        }

        RandomAccess.SetLength(file, done);
        return hash.GetCurrentHash();
    }

    /// <summary>Has a file written to the disk, and reads it from there.</summary>
    /// <param name="hash">As <see cref="Write"/> gave it.</param>
    /// <exception cref="IOException">It did not read back equal.</exception>
    public static void Prove(string path, byte[] hash, Action<double> report, CancellationToken cancellation)
    {
        using (var written = PlainFile.OpenHandle(path, FileMode.Open, FileAccess.ReadWrite))
        {
            RandomAccess.FlushToDisk(written);
            DiskCache.Drop(written);
        }

        using var file = DirectFile.TryRead(path) ?? PlainFile.OpenHandle(path, FileMode.Open, FileAccess.Read);
        if (!hash.AsSpan().SequenceEqual(HashOf(file, report, cancellation)))
            throw new IOException("The file did not read back equal after it was copied. The stick may be worn out.");
    }

    private static byte[] HashOf(SafeFileHandle file, Action<double> report, CancellationToken cancellation)
    {
        var hash = new XxHash128();
        long length = RandomAccess.GetLength(file), done = 0;
        var block = BlockFor(length);
        for (int got; done < length && (got = RandomAccess.Read(file, block.Span, done)) > 0; report((double)done / length))
        {
            cancellation.ThrowIfCancellationRequested();
            hash.Append(block.Span[..got]);
            done += got;
        }

        return hash.GetCurrentHash();
    }

    private static Memory<byte> BlockFor(long length) => DirectFile.Allocate(WholePages((int)Math.Clamp(length, 1, BlockBytes)));

    private static int WholePages(int bytes) => (bytes + DirectFile.PageBytes - 1) / DirectFile.PageBytes * DirectFile.PageBytes;
}
