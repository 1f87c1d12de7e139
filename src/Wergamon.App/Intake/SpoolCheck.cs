using System.IO.Hashing;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Core.Bytes;
using Wergamon.Core.Discs;

namespace Wergamon.App.Intake;

/// <summary>
/// Looks at start whether the sound that was read and waits for its copies is still what was read: it is written without waiting
/// for the disk, so that a loss of power can take it. What is gone is read from the disc again. Files of surround titles have no
/// sum and are waited for instead.
/// </summary>
public sealed class SpoolCheck(RipStore rips, RunScheduler scheduler, Spool spool, ILogger<SpoolCheck> logger) : IHostedService
{
    private const int BlockBytes = 1 << 18;

    private const string LostSound = "Audio that was read from the disc is lost. Continue to read it again.";

    public Task StartAsync(CancellationToken cancellationToken)
    {
        Guard.Try(logger, "Checking the spool", () =>
        {
            foreach (var track in rips.InSpool())
            {
                cancellationToken.ThrowIfCancellationRequested();
                Check(track);
            }
        });
        return Task.CompletedTask;
    }

    public Task StopAsync(CancellationToken cancellationToken) => Task.CompletedTask;

    private void Check(RipTrackRow track)
    {
        long runId = track.Item.RunId;
        if (track.Reading is not { } reading || IsWhole(spool.PathOf(runId, track.Number), reading.Span.Frames, reading.Crc32))
            return;
        scheduler.Reopen(runId, [track.Item.Id], LostSound);
        logger.LogWarning(
            "Run {RunId}, track {Number}: the audio read from the disc is missing or damaged and will be read again", runId, track.Number);
    }

    private static bool IsWhole(string path, long frames, uint crc32)
    {
        long length = frames * AudioDisc.BytesPerFrame;
        try
        {
            using var stream = PlainFile.OpenRead(path);
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
