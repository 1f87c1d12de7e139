using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Workers;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>Makes a file of a stick with other tags and the same coded sound, at first beside it.</summary>
public sealed class StickTagHandler(StickStore store, StickGuard gate, WorkerPool workers) : ItemHandler<StickTagSpec>(ItemKind)
{
    public static readonly ItemKind<StickTagSpec> ItemKind = new("stick-tags", () => StickRunsJson.Default.StickTagSpec);

    protected override async Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, StickTagSpec spec, ItemContext context, CancellationToken cancellation)
    {
        if (store.File(spec.StickId, spec.Key, path => gate.StampAt(spec.StickId, spec.Place, path)) is not { } known
            || gate.StampAt(spec.StickId, spec.Place, known.File.Path) != known.File.Stamp)
            return ItemOutcome.Failed("The file on the stick was changed or removed in the meantime. Update the stick again.");
        PlainFolder.Create(Path.GetDirectoryName(spec.Job.OutputPath)!);
        Placement.Remove(spec.Job.OutputPath);
        var reply = await workers.RunAsync(
            new RetagJob(Path.Combine(spec.Place, known.File.Path), spec.Job), WorkerPriority.Requested, null,
            cancellation).ConfigureAwait(false);
        return reply is RetagReply ? ItemOutcome.Done(null) : ItemOutcome.Failed(reply.Failure ?? "The worker gave no reason.");
    }

    protected override ItemDescription Describe(RunItemRow item, StickTagSpec spec) =>
        new("Writing tags", "Tags written") { OnFailure = "The file on the stick is unchanged." };
}
