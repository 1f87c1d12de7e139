using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Workers;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Deliver.Discs;

/// <summary>
/// Makes a track ready for a disc or a joined file: a worker brings it to the format that is wanted, as its route says, and proves it.
/// </summary>
public sealed class PrepareTrackHandler(
    WorkerPool workers, CopyFiles copies, AllowedPaths allowed, AlbumLevels levels, RunStore runs, DeliverySpool spool)
    : ItemHandler<PrepareTrackSpec>(ItemKind)
{
    public static readonly ItemKind<PrepareTrackSpec, PreparedTrack> ItemKind = new(
        "prepare-track", () => DiscRunsJson.Default.PrepareTrackSpec, () => DiscRunsJson.Default.PreparedTrack);

    protected override async Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, PrepareTrackSpec spec, ItemContext context, CancellationToken cancellation)
    {
        if (!allowed.MayRead(spec.Job.SourcePath))
            return ItemOutcome.Failed($"{spec.Job.SourcePath} is missing, or no longer a file in an allowed folder.");
        var job = await levels.WithGainAsync(
            item.RunId, "", spec.Job.Encoder.Format.Key, spec.Job,
            () => [.. runs.Items(item.RunId).Where(ItemKind.Is).Select(other => ItemKind.SpecOf(other).Job)],
            cancellation).ConfigureAwait(false);
        var path = spool.PathOf(item.RunId, spec.Index);
        PlainFolder.Create(spool.FolderOf(item.RunId));
        var reply = await AskAsync(job, path, context, cancellation).ConfigureAwait(false);
        if (reply is DifferentSourceReply different && Correct(spec, different) is { } corrected)
            reply = await AskAsync(corrected, path, context, cancellation).ConfigureAwait(false);
        if (reply is not ConvertReply made)
        {
            PlainFile.Delete(path);
            return ItemOutcome.Failed(reply.Failure ?? "The worker gave no reason.");
        }

        // What is ready outlives a loss of power.
        using (var handle = PlainFile.OpenHandle(path, FileMode.Open, FileAccess.ReadWrite))
            RandomAccess.FlushToDisk(handle);
        return ItemKind.Done(new PreparedTrack(made.Proof.FramesOut, made.Proof.InWords()));
    }

    /// <summary>The spool is emptied when another run of the delivery starts.</summary>
    protected override bool HasResult(RunItemRow item, PrepareTrackSpec spec) => PlainFile.Exists(spool.PathOf(item.RunId, spec.Index));

    protected override ItemDescription Describe(RunItemRow item, PrepareTrackSpec spec) =>
        new("Preparing", "Ready")
        {
            Detail = ItemKind.ResultOf(item)?.Steps ?? "",
            OnFailure = "Nothing was burned; the original is unchanged."
        };

    private Task<WorkerReply> AskAsync(ConvertJob job, string path, ItemContext context, CancellationToken cancellation)
    {
        PlainFile.Delete(path);
        return workers.RunAsync(
            job with { OutputPath = path }, WorkerPriority.Requested,
            progress => context.Report(progress.Total > 0 ? Math.Clamp((double)progress.Done / progress.Total, 0, 1) : 0), cancellation);
    }

    /// <summary>The job for a file whose header was read wrong; null for one that has changed since its scan.</summary>
    private ConvertJob? Correct(PrepareTrackSpec spec, DifferentSourceReply different)
    {
        if (copies.CorrectFormat(spec.CopyId, different) is not { } source)
            return null;
        return spec.Job with
        {
            SourceFormat = source.Facts.Format,
            Steps = RoutePlanner.Plan(source.Facts, source.Fidelity, spec.Target).StepsBeforeEncoding()
        };
    }
}
