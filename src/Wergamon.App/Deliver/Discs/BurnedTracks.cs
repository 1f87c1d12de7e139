using Wergamon.App.Runs;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Burning;
using Wergamon.Core.Formats.Wav;

namespace Wergamon.App.Deliver.Discs;

/// <summary>A disc as it is written: the prepared tracks, with their real lengths.</summary>
public sealed class BurnedTracks(RunStore runs, DeliverySpool spool)
{
    internal DiscLayout LayoutOf(long runId, BurnDiscSpec spec)
    {
        var frames = runs.Items(runId)
            .Where(PrepareTrackHandler.ItemKind.Is)
            .ToDictionary(
                item => PrepareTrackHandler.ItemKind.SpecOf(item).Index, item => PrepareTrackHandler.ItemKind.ResultOf(item)?.Frames);
        return DiscLayout.Of(
            [.. spec.Tracks.Select((track, index) => frames.GetValueOrDefault(index) is { } real ? track with { Frames = real } : track)],
            spec.Settings.Options);
    }

    /// <summary>Writes all sectors.</summary>
    /// <param name="report">Receives the share that is written, from 0 to 1.</param>
    /// <returns>The sum of each track as a drive reads it.</returns>
    /// <exception cref="UnreadableAudioException">A track in the spool is damaged.</exception>
    internal IReadOnlyList<uint> Write(
        long runId, DiscLayout layout, SectorSink sink, Action<double> report, CancellationToken cancellation)
    {
        var sums = new TrackSums(TrackSpan.Of(layout.Contents(), Pauses.WithTrackBefore));
        DiscImageWriter.WriteSectors(
            layout, index => new WavReader(PlainFile.OpenRead(spool.PathOf(runId, index))),
            bytes =>
            {
                cancellation.ThrowIfCancellationRequested();
                sink(bytes);
                sums.Append(bytes);
            },
            sectors => report((double)sectors / layout.LeadOut));
        return sums.Sums;
    }
}
