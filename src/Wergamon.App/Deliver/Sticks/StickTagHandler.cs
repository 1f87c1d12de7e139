using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Workers;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>Makes a file of a stick with other tags and the coded sound that it has, beside it at first.</summary>
public sealed class StickTagHandler(StickStore store, StickGate gate, WorkerPool workers) : IItemHandler
{
    /// <summary>Names the items.</summary>
    public const string ItemKind = "stick-tags";

    public string Kind => ItemKind;

    public async Task<ItemOutcome> ExecuteAsync(RunItemRow item, ItemContext context, CancellationToken cancellation)
    {
        var spec = StickTagSpec.Of(item);
        if (store.File(spec.StickId, spec.Key, path => gate.StampAt(spec.StickId, spec.Place, path)) is not { } known || gate.StampAt(spec.StickId, spec.Place, known.File.Path) != known.File.Stamp)
            return ItemOutcome.Failed("The file on the stick was changed or removed meanwhile. Update the stick again.");
        PlainFolder.Create(Path.GetDirectoryName(spec.Job.OutputPath)!);
        Placement.Remove(spec.Job.OutputPath);
        var reply = await workers.RunAsync(new RetagJob(Path.Combine(spec.Place, known.File.Path), spec.Job), WorkerPriority.AskedFor, null, cancellation).ConfigureAwait(false);
        return reply is RetagReply ? ItemOutcome.Done(null) : ItemOutcome.Failed(reply.Failure ?? "The worker gave no reason.");
    }

    public ItemDescription Describe(RunItemRow item) => new("Writing tags", "Tags written") { OnFailure = "The file on the stick is as it was." };
}
