using System.Collections.Concurrent;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Runs;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Devices.Drives;

namespace Wergamon.App.Intake;

/// <summary>
/// Reads discs, one lane per drive. A track that has been read lies as a WAV file in the spool; from there the workers make its
/// copies while the drive goes on with the next track. What was read before a stop or a crash is not read again.
/// </summary>
public sealed class RipEngine(
    DriveBay bay, RipStore rips, Spool spool, RunEngine engine, RunProgress runProgress, RipProgress progress, RipFinish finish, DiscCopies copies, RunSignals signals, ILogger<RipEngine> logger)
    : BackgroundService
{
    private const string PartExtension = ".part";

    private readonly ConcurrentDictionary<string, SemaphoreSlim> _wake = new();

    /// <summary>Lets all drives look for work.</summary>
    public void Wake()
    {
        foreach (var wake in _wake.Values)
            wake.Release();
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await Task.Yield();
        foreach (var tray in bay.Trays)
            _wake[tray.Letter] = new SemaphoreSlim(0);
        engine.Resumed += Wake;
        engine.Ended += OnEnded;
        foreach (long ended in rips.EndedWithSpool())
            OnEnded(ended);
        try
        {
            await Task.WhenAll(bay.Trays.Select(tray => LaneAsync(tray, stoppingToken))).ConfigureAwait(false);
        }
        finally
        {
            engine.Resumed -= Wake;
            engine.Ended -= OnEnded;
        }
    }

    private void OnEnded(long runId)
    {
        if (rips.Tracks(runId).Count == 0)
            return;
        finish.OnEnded(runId);
        // Names that were mended while a copy was being made have not reached it yet.
        copies.Follow(rips.DiscOf(runId).Id);
    }

    private async Task LaneAsync(IDriveTray tray, CancellationToken cancellation)
    {
        while (!cancellation.IsCancellationRequested)
        {
            if (rips.NextFor(tray.Letter) is { } runId)
                await Task.Factory.StartNew(() => ReadDisc(tray, runId, cancellation), cancellation, TaskCreationOptions.LongRunning, TaskScheduler.Default).ConfigureAwait(false);
            else
                await _wake[tray.Letter].WaitAsync(cancellation).ConfigureAwait(false);
        }
    }

    private void ReadDisc(IDriveTray tray, long runId, CancellationToken cancellation)
    {
        var stop = engine.StopTokenOf(runId, cancellation);
        var settings = rips.SettingsOf(runId);
        try
        {
            var disc = RightDisc(tray, runId);
            runProgress.Begin(runId);
            var waiting = rips.Tracks(runId).Where(track => track.State == RipTrackState.Waiting).ToList();
            if (disc.Titles.Count > 0)
            {
                foreach (var track in waiting)
                    CopyTitle(disc, runId, track, stop);
            }
            else
            {
                var reader = new CarefulReader(tray.Open(), settings.Reading, progress.ListenerFor(runId, settings.IsCareful));
                foreach (var track in waiting)
                    ReadTrack(reader, runId, track.Span, stop);
            }

            if (settings.EjectWhenDone)
                bay.Eject(tray.Letter);
        }
        catch (OperationCanceledException)
        {
            logger.LogInformation("Run {RunId}: reading stopped", runId);
        }
        catch (UnreadableDiscException failure)
        {
            engine.Stop(runId, failure.Message);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            engine.Stop(runId, $"The sound that was read could not be kept: {failure.Message}");
        }
        finally
        {
            progress.End(runId);
            signals.Send(new RunSignal("disc"));
        }
    }

    private LoadedDisc RightDisc(IDriveTray tray, long runId)
    {
        var disc = rips.DiscOf(runId);
        if (tray.Disc is not { } inside || DiscId.Sha1(inside.Image.Contents) != disc.Sha1Id)
            throw new UnreadableDiscException($"The disc is not in {tray.Traits.Name}. Put it in and continue.");
        return inside;
    }

    /// <summary>Copies the files of a title. Data sectors carry their own checks, so that one reading is enough.</summary>
    private void CopyTitle(LoadedDisc disc, long runId, RipTrackRow track, CancellationToken cancellation)
    {
        progress.Begin(runId, track.Number, track.FirstSector);
        var listener = progress.ListenerFor(runId, isCareful: false);
        Directory.CreateDirectory(spool.FolderOf(runId));
        var parts = track.ReadSurround()!.Title.Parts;
        long total = parts.Sum(part => part.File.Length), copied = 0;
        var buffer = new byte[1 << 18];
        for (int i = 0; i < parts.Count; i++)
        {
            var path = spool.PathOf(runId, track.Number, i);
            using (var source = disc.OpenFile(parts[i].File))
            using (var target = new FileStream(path + PartExtension, FileMode.Create, FileAccess.Write, FileShare.None, bufferSize: 0))
            {
                for (int got; (got = source.ReadUpTo(buffer)) > 0; copied += got)
                {
                    cancellation.ThrowIfCancellationRequested();
                    target.Write(buffer, 0, got);
                    listener.Reached(track.FirstSector + (int)((track.EndSector - track.FirstSector) * copied / total), isSecond: true);
                }

                target.Flush(flushToDisk: true);
                if (target.Length != parts[i].File.Length)
                    throw new UnreadableDiscException($"{parts[i].File.Name} ends before its time; the disc is cut off or damaged.");
            }

            File.Move(path + PartExtension, path, overwrite: true);
        }

        rips.SetTitleRead(runId, track.Number);
        engine.Wake();
        signals.Send(new RunSignal("disc"));
    }

    private void ReadTrack(CarefulReader reader, long runId, TrackSpan span, CancellationToken cancellation)
    {
        progress.Begin(runId, span.Number, span.FirstSector);
        var path = spool.PathOf(runId, span.Number);
        Directory.CreateDirectory(spool.FolderOf(runId));
        TrackReading reading;
        using (var stream = new FileStream(path + PartExtension, FileMode.Create, FileAccess.ReadWrite, FileShare.None, bufferSize: 0))
        {
            WavWriter.WriteHead(stream, new PcmFormat(SampleRate.AudioDisc, 2, 16), span.Frames);
            reading = reader.Read(span, stream, cancellation);
        }

        File.Move(path + PartExtension, path, overwrite: true);
        rips.SetRead(runId, reading);
        logger.LogInformation("Run {RunId} track {Number}: {Verdict}, CRC {Crc:X8}, {Sectors} sectors read", runId, span.Number, reading.Verdict, reading.Crc32, reading.SectorsRead);
        engine.Wake();
        signals.Send(new RunSignal("disc"));
    }
}
