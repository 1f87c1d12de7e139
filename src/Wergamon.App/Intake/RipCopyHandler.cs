using System.Text.Json;
using Wergamon.App.Copies;
using Wergamon.App.Runs;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Intake;

/// <summary>Makes the copies of a track from the audio in the spool.</summary>
public sealed class RipCopyHandler(CopyMaker maker, RipStore rips, RipJobs jobs, RunStore runs, AlbumLevels levels)
    : ItemHandler<CopySpec>(ItemKind)
{
    public static readonly ItemKind<CopySpec, CopyResult> ItemKind = new(
        CopyItemKind.Rip, () => CopiesJson.Default.CopySpec, () => CopiesJson.Default.CopyResult);

    protected override async Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, CopySpec spec, ItemContext context, CancellationToken cancellation)
    {
        var rip = rips.Get(item.RunId)!;
        (spec, var job) = jobs.For(item, rip);
        if (spec.DiscTrack != RipStore.WholeDisc)
            job = await levels.WithGainAsync(item.RunId, "", spec.Target.Key, job, () => JobsOfDisc(rip, spec), cancellation)
                .ConfigureAwait(false);
        return await maker.MakeAsync(item, spec, job, OriginOf(rip, spec), context, cancellation).ConfigureAwait(false);
    }

    private List<ConvertJob> JobsOfDisc(RipRow rip, CopySpec mine) =>
        [
            .. runs.Items(rip.RunId)
                .Where(other => ItemKind.Is(other) && CopySpec.Of(other).Target.Key == mine.Target.Key)
                .Select(other => jobs.For(other, rip).Job)
        ];

    protected override Task<ItemOutcome?> RecoverAsync(RunItemRow item, CopySpec spec, CancellationToken cancellation)
    {
        var rip = rips.Get(item.RunId)!;
        (spec, _) = jobs.For(item, rip);
        return maker.RecoverAsync(item, spec, OriginOf(rip, spec));
    }

    protected override ItemDescription Describe(RunItemRow item, CopySpec spec) =>
        CopyMaker.Describe(item, spec, "Nothing was written; what was read from the disc is kept.");

    private DiscOrigin OriginOf(RipRow rip, CopySpec spec)
    {
        var reading = rips.Tracks(rip.RunId).FirstOrDefault(track => track.Number == spec.DiscTrack)?.Reading;
        return new DiscOrigin(
            rip.DiscId, spec.DiscTrack!.Value, reading is null ? null : JsonSerializer.Serialize(reading, IntakeJson.Default.TrackReading));
    }
}
