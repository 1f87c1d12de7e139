using System.IO.Hashing;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;

namespace Wergamon.App.Intake;

/// <summary>
/// Looks at start whether the sound that was read and waits for its copies is still what was read: it is written without waiting
/// for the disk, so that a loss of power can take it. What is gone is read from the disc again. Files of surround titles have no
/// sum and are waited for instead.
/// </summary>
public sealed class SpoolCheck(RipStore rips, Spool spool, ILogger<SpoolCheck> logger) : IHostedService
{
    private const int BlockBytes = 1 << 18;

    public Task StartAsync(CancellationToken cancellationToken)
    {
        foreach (var track in rips.WaitingInSpool())
        {
            cancellationToken.ThrowIfCancellationRequested();
            if (track.ReadReading() is not { } reading || IsWhole(spool.PathOf(track.RunId, track.Number), reading.Span.Frames, reading.Crc32))
                continue;
            foreach (var path in rips.SetUnread(track.RunId, track.Number))
                Remove(path);
            logger.LogWarning("Run {RunId} track {Number}: what was read of it is lost; it is read again", track.RunId, track.Number);
        }

        return Task.CompletedTask;
    }

    public Task StopAsync(CancellationToken cancellationToken) => Task.CompletedTask;

    /// <summary>What is left of a copy may lie on a drive that is not connected; that keeps nobody from starting.</summary>
    private void Remove(string path)
    {
        try
        {
            File.Delete(path);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            logger.LogWarning(failure, "A temporary file stays behind: {Path}", path);
        }
    }

    private static bool IsWhole(string path, long frames, uint crc32)
    {
        long length = frames * AudioDisc.BytesPerFrame;
        try
        {
            using var stream = File.OpenRead(path);
            if (stream.Length < length)
                return false;
            stream.Position = stream.Length - length;
            var crc = new Crc32();
            var block = new byte[BlockBytes];
            for (int got; (got = stream.ReadUpTo(block)) > 0;)
                crc.Append(block.AsSpan(0, got));
            return crc.GetCurrentHashAsUInt32() == crc32;
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            return false;
        }
    }
}
