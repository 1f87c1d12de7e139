using System.IO.Hashing;

namespace Wergamon.App.Files;

/// <summary>Copies to a disk and reads back from there what has arrived.</summary>
internal static class ProvedCopy
{
    private const int BlockBytes = 1 << 20;

    /// <summary>Of the progress; reading is the faster part.</summary>
    private const double WritingShare = 0.7;

    /// <param name="path">A new file.</param>
    /// <param name="report">Told how much is done, from 0 to 1.</param>
    /// <exception cref="IOException">It could not be written, or did not read back equal.</exception>
    public static void Write(Stream source, string path, Action<double> report, CancellationToken cancellation)
    {
        var (written, read) = (new XxHash128(), new XxHash128());
        var block = new byte[(int)Math.Clamp(source.Length, 1, BlockBytes)];
        using var target = new FileStream(path, FileMode.CreateNew, FileAccess.ReadWrite, FileShare.None, bufferSize: 0);
        for (int got; (got = source.Read(block)) > 0;)
        {
            cancellation.ThrowIfCancellationRequested();
            target.Write(block, 0, got);
            written.Append(block.AsSpan(0, got));
            report(WritingShare * target.Length / Math.Max(1, source.Length));
        }

        target.Flush(flushToDisk: true);
        DiskCache.Drop(target.SafeFileHandle);
        target.Position = 0;
        for (int got; (got = target.Read(block)) > 0;)
        {
            cancellation.ThrowIfCancellationRequested();
            read.Append(block.AsSpan(0, got));
            report(WritingShare + (1 - WritingShare) * target.Position / Math.Max(1, source.Length));
        }

        if (!written.GetCurrentHash().AsSpan().SequenceEqual(read.GetCurrentHash()))
            throw new IOException("The file did not read back equal after it was copied. The stick may be worn out.");
    }
}
