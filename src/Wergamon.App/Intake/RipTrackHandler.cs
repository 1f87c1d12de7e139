using System.Collections.Concurrent;
using Microsoft.Extensions.Logging;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Formats.Wav;
using Wergamon.Devices.Drives;

namespace Wergamon.App.Intake;

/// <summary>
/// Reads a track of a disc into the spool, in the lane of its drive; from there the workers make its copies while the drive goes
/// on with the next track.
/// </summary>
public sealed class RipTrackHandler(
    DriveBay bay, RipStore rips, DiscStore discs, Spool spool, RunStore runs, RipProgress progress, Signals signals,
    ILogger<RipTrackHandler> logger)
    : ItemHandler<RipTrackSpec>(ItemKind)
{
    public static readonly ItemKind<RipTrackSpec, RipTrackResult> ItemKind = new(
        "rip-track", () => IntakeJson.Default.RipTrackSpec, () => IntakeJson.Default.RipTrackResult);

    private const string PartExtension = ".part";

    /// <summary>A reader learns about its drive from track to track, so it is kept for the whole rip.</summary>
    private readonly ConcurrentDictionary<string, (long RunId, LoadedDisc Disc, CarefulReader Reader)> _readers = new();

    protected override Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, RipTrackSpec spec, ItemContext context, CancellationToken cancellation) =>
        DedicatedThread.RunAsync(() => Read(item, spec, context, cancellation));

    protected override bool HasResult(RunItemRow item, RipTrackSpec spec)
    {
        return spec.Surround is null
            ? PlainFile.Exists(spool.PathOf(item.RunId, spec.Number))
            : spec.Surround.Title.Parts.Select((_, part) => spool.PathOf(item.RunId, spec.Number, part)).All(PlainFile.Exists);
    }

    protected override ItemDescription Describe(RunItemRow item, RipTrackSpec spec) => new("Reading", "Read");

    private ItemOutcome Read(RunItemRow item, RipTrackSpec spec, ItemContext context, CancellationToken cancellation)
    {
        var rip = rips.Get(item.RunId) ?? throw new InvalidDataException($"Run {item.RunId} is no rip.");
        var tray = bay.Tray(rip.Drive) ?? throw new RunStoppedException($"Drive {rip.Drive} no longer exists.");
        try
        {
            var disc = RightDisc(tray, rip);
            TrackReading? reading = null;
            PlainFolder.Create(spool.FolderOf(item.RunId));
            progress.Begin(item.RunId, spec.Number, spec.FirstSector, now => context.Report(ShareOf(now, spec)));
            if (spec.Surround is null)
                reading = ReadTrack(tray, disc, rip, spec, cancellation);
            else
                CopyTitle(disc, item.RunId, spec, cancellation);
            EjectIfLast(tray, item, rip);
            return ItemKind.Done(new RipTrackResult(reading));
        }
        catch (UnreadableDiscException failure)
        {
            throw new RunStoppedException(
                tray.Disc is null ? $"The disc is not in {tray.Traits.Name}: it was removed. Insert it and continue." : failure.Message,
                failure);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            throw new RunStoppedException($"The audio that was read could not be saved: {failure.Message}", failure);
        }
        finally
        {
            progress.End(item.RunId);
            signals.Send(new Signal(Signal.Disc));
        }
    }

    private static double ShareOf(ReadingNow now, RipTrackSpec spec) =>
        (now.ReadOnceTo - spec.FirstSector + now.ReadTwiceTo - spec.FirstSector) / 2.0 / Math.Max(1, spec.EndSector - spec.FirstSector);

    private LoadedDisc RightDisc(IDriveTray tray, RipRow rip)
    {
        if (tray.Disc is not { } inside || DiscId.Sha1(inside.Image.Contents) != discs.Get(rip.DiscId)!.Sha1Id)
            throw new UnreadableDiscException($"The disc is not in {tray.Traits.Name}. Insert it and continue.");
        return inside;
    }

    private TrackReading ReadTrack(IDriveTray tray, LoadedDisc disc, RipRow rip, RipTrackSpec spec, CancellationToken cancellation)
    {
        var reader = ReaderFor(tray, disc, rip);
        var span = new TrackSpan(spec.Number, spec.FirstSector, spec.EndSector);
        var path = spool.PathOf(rip.RunId, span.Number);
        TrackReading reading;
        try
        {
            // Not flushed: its sum is checked at the next start (SpoolCheck).
            using var stream = PlainFile.Open(path + PartExtension, FileMode.Create, FileAccess.ReadWrite, bufferSize: 0);
            WavWriter.WriteHead(stream, new PcmFormat(SampleRate.AudioDisc, 2, 16), span.Frames);
            reading = reader.Read(span, stream, cancellation);
        }
        catch
        {
            _readers.TryRemove(tray.Letter, out _);
            throw;
        }

        PlainFile.Move(path + PartExtension, path, overwrite: true);
        logger.LogInformation(
            "Run {RunId} track {Number}: {Verdict}, CRC {Crc:X8}, {Sectors} sectors read", rip.RunId, span.Number, reading.Verdict,
            reading.Crc32, reading.SectorsRead);
        return reading;
    }

    private CarefulReader ReaderFor(IDriveTray tray, LoadedDisc disc, RipRow rip)
    {
        if (_readers.TryGetValue(tray.Letter, out var kept) && kept.RunId == rip.RunId && kept.Disc == disc)
            return kept.Reader;
        var settings = rip.ReadSettings();
        var reader = new CarefulReader(tray.Open(), settings.Reading, progress.ListenerFor(rip.RunId, settings.IsCareful));
        _readers[tray.Letter] = (rip.RunId, disc, reader);
        return reader;
    }

    /// <summary>Copies the files of a title. Data sectors have error detection of their own, so one reading is enough.</summary>
    private void CopyTitle(LoadedDisc disc, long runId, RipTrackSpec spec, CancellationToken cancellation)
    {
        var listener = progress.ListenerFor(runId, isCareful: false);
        var parts = spec.Surround!.Title.Parts;
        long total = parts.Sum(part => part.File.Length), copied = 0;
        var buffer = new byte[1 << 18];
        for (int i = 0; i < parts.Count; i++)
        {
            var path = spool.PathOf(runId, spec.Number, i);
            using (var source = disc.OpenFile(parts[i].File))
            using (var target = PlainFile.Open(path + PartExtension, FileMode.Create, FileAccess.Write, bufferSize: 0))
            {
                for (int got; (got = source.ReadUpTo(buffer)) > 0; copied += got)
                {
                    cancellation.ThrowIfCancellationRequested();
                    target.Write(buffer, 0, got);
                    listener.Reached(spec.FirstSector + (int)((spec.EndSector - spec.FirstSector) * copied / total), isSecond: true);
                }

                target.Flush(flushToDisk: true);
                if (target.Length != parts[i].File.Length)
                    throw new UnreadableDiscException($"{parts[i].File.Name} ends early; the disc is cut off or damaged.");
            }

            PlainFile.Move(path + PartExtension, path, overwrite: true);
        }
    }

    private void EjectIfLast(IDriveTray tray, RunItemRow item, RipRow rip)
    {
        if (rip.ReadSettings().EjectWhenDone
            && !runs.Items(item.RunId).Any(other => other.Kind == Kind && other.Id != item.Id && !other.IsEnded))
            bay.Eject(tray.Letter);
    }
}
