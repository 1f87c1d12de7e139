using System.IO.Hashing;

namespace Wergamon.App.Files;

/// <summary>Copies to a disk and reads back from there what has arrived, in two steps, so that the next copy can begin while the last one is read back.</summary>
internal static class ProvedCopy
{
    private const int BlockBytes = 1 << 20;

    /// <param name="path">A new file.</param>
    /// <param name="report">Told how much is done, from 0 to 1.</param>
    /// <returns>A hash of the bytes, for <see cref="Prove"/>.</returns>
    /// <exception cref="IOException">It could not be written.</exception>
    public static byte[] Write(Stream source, string path, Action<double> report, CancellationToken cancellation)
    {
        using var target = new FileStream(path, FileMode.CreateNew, FileAccess.Write, FileShare.Read, bufferSize: 0);
        return Hash(source, source.Length, block => target.Write(block), report, cancellation);
    }

    /// <summary>Has a file written to the disk, and reads it from there.</summary>
    /// <param name="hash">As <see cref="Write"/> gave it.</param>
    /// <exception cref="IOException">It did not read back equal.</exception>
    public static void Prove(string path, byte[] hash, Action<double> report, CancellationToken cancellation)
    {
        using var file = new FileStream(path, FileMode.Open, FileAccess.ReadWrite, FileShare.Read, bufferSize: 0);
        file.Flush(flushToDisk: true);
        DiskCache.Drop(file.SafeFileHandle);
        if (!hash.AsSpan().SequenceEqual(Hash(file, file.Length, _ => { }, report, cancellation)))
            throw new IOException("The file did not read back equal after it was copied. The stick may be worn out.");
    }

    private delegate void BlockSink(ReadOnlySpan<byte> block);

    private static byte[] Hash(Stream source, long length, BlockSink sink, Action<double> report, CancellationToken cancellation)
    {
        var hash = new XxHash128();
        var block = new byte[(int)Math.Clamp(length, 1, BlockBytes)];
        long done = 0;
        for (int got; (got = source.Read(block)) > 0; report((double)done / Math.Max(1, length)))
        {
            cancellation.ThrowIfCancellationRequested();
            sink(block.AsSpan(0, got));
            hash.Append(block.AsSpan(0, got));
            done += got;
        }

        return hash.GetCurrentHash();
    }
}
