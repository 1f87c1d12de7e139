using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Bench;

/// <summary>The copy that an item looks at.</summary>
public sealed record InspectSpec(long CopyId);

/// <summary>Looks whether copies are what they say.</summary>
public sealed class InspectHandler(WorkerPool workers, InspectionStore store, LibraryQueries library, AllowedPaths allowed, Signals signals)
    : ItemHandler<InspectSpec>(ItemKind)
{
    public static readonly ItemKind<InspectSpec> ItemKind = new("inspect", () => BenchJson.Default.InspectSpec);

    protected override async Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, InspectSpec spec, ItemContext context, CancellationToken cancellation)
    {
        var id = spec.CopyId;
        if (library.Copy(id) is not { IsMissing: false } copy || !allowed.MayRead(copy.Path))
            return ItemOutcome.Skipped("This file is missing or in the trash.");
        var stamp = ComparedSound.StampOf(copy.Path);
        var reply = await workers.RunAsync(
            new InspectJob(copy.Path, copy.Sound.IsLossless), WorkerPriority.Requested,
            progress => context.Report(progress.Total > 0 ? Math.Min(1, (double)progress.Done / progress.Total) : 0),
            cancellation).ConfigureAwait(false);
        if (stamp != ComparedSound.StampOf(copy.Path))
            return ItemOutcome.Failed("The file changed while it was being read. Scan its folder, then check it again.");
        store.Save(id, (reply as InspectReply)?.Inspection, reply.Failure);
        signals.Send(new Signal(Signal.Library));
        return reply is InspectReply ? ItemOutcome.Done(null) : ItemOutcome.Failed(reply.Failure ?? "The worker gave no reason.");
    }

    protected override ItemDescription Describe(RunItemRow item, InspectSpec spec)
    {
        var id = spec.CopyId;
        var found = item.State == ItemState.Done ? store.Get(id) : null;
        return new ItemDescription("Checking", "Checked")
        {
            CopyId = id,
            Detail = found is null
                ? ""
                : found.Inspection.Findings.Count == 0
                ? "nothing suspicious"
                : string.Join(" ", found.Inspection.Findings.Select(finding => finding.Measured)),
            OnFailure = "Nothing was changed.",
        };
    }
}
