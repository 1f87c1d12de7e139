using Wergamon.App.Copies;
using Wergamon.App.Runs;

namespace Wergamon.App.Intake;

/// <summary>The rips whose reports are to be written.</summary>
public sealed record RipReportSpec(IReadOnlyList<long>? RunIds);

/// <summary>
/// Writes what is known of a disc beside its copies, the cue sheet of a whole disc, and empties the spool. Names that were corrected
/// while a copy was being made are written into it afterwards.
/// </summary>
public sealed class RipReportHandler(RunStore runs, RipStore rips, DiscRenames renames, Spool spool, RipReports reports)
    : ItemHandler<RipReportSpec>(ItemKind)
{
    public static readonly ItemKind<RipReportSpec> ItemKind = new("rip-report", () => IntakeJson.Default.RipReportSpec);

    protected override Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, RipReportSpec spec, ItemContext context, CancellationToken cancellation)
    {
        foreach (var rip in (spec?.RunIds ?? [item.RunId]).Select(rips.Get).OfType<RipRow>())
            Finish(rip);
        // Names that were corrected while a copy was being made have not reached it.
        if (rips.Get(item.RunId) is { } own)
            renames.Follow(own.DiscId);
        return Task.FromResult(ItemOutcome.Done(null));
    }

    protected override ItemDescription Describe(RunItemRow item, RipReportSpec spec) => new("Writing the report", "Written");

    private void Finish(RipRow rip)
    {
        var items = runs.Items(rip.RunId);
        var made = items.Select(CopyResult.Of).OfType<CopyResult>().ToList();
        if (!rips.Tracks(rip.RunId).Any(track => track.Surround is not null))
            reports.Write(rip, made);
        foreach (var whole in items.Where(item => RipCopyHandler.ItemKind.Is(item) && CopySpec.Of(item).DiscTrack == RipStore.WholeDisc)
            .Select(CopyResult.Of)
            .OfType<CopyResult>())
            reports.WriteCueSheet(rip, whole.Path);
        // What failed can be tried again only from the audio that was read.
        if (items.All(item => ItemKind.Is(item) || item.State is ItemState.Done or ItemState.Skipped))
            spool.Clear(rip.RunId);
    }
}
