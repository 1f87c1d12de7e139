using System.Data;
using System.Text.Json;
using Microsoft.Extensions.Logging;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Workers;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Copies;

/// <summary>A disc that a copy comes from.</summary>
/// <param name="Reading">What reading the track gave, as JSON; null where nothing is known.</param>
public sealed record DiscOrigin(long DiscId, int DiscTrack, string? Reading);

/// <summary>
/// Makes one copy for an item of a run: a worker encodes and proves it, then it is flushed to the disk, gets its name and is recorded
/// in the library. The worker gets the next item as soon as its part is done.
/// </summary>
public sealed class CopyMaker(
    WorkerPool workers, Placement placement, CopyDestination destination, CopyConflicts conflicts, CopyRecorder recorder, Throughput pace,
    TimeProvider time, ILogger<CopyMaker> logger)
{
    /// <summary>Encoding and proving together make a copy; proving is the shorter part.</summary>
    private const double EncodingShare = 0.9;

    /// <param name="job">What the worker has to do; its output path is chosen here.</param>
    /// <param name="correct">Corrects the plan for a source that decodes to another format than expected; null when it cannot be.</param>
    /// <exception cref="RunStoppedException">The disk is full or not connected.</exception>
    public async Task<ItemOutcome> MakeAsync(
        RunItemRow item, CopySpec spec, ConvertJob job, DiscOrigin? origin, ItemContext context, CancellationToken cancellation,
        Func<DifferentSourceReply, (CopySpec Spec, ConvertJob Job)?>? correct = null)
    {
        using var hold = workers.PauseBackground();
        destination.StopIfAway(item, spec);
        var file = placement.Begin(spec.WantedPath, item.Id);
        try
        {
            long begun = time.GetTimestamp();
            var reply = await AskAsync(job, file, context, cancellation).ConfigureAwait(false);
            CopySpec? corrected = null;
            if (reply is DifferentSourceReply different && correct?.Invoke(different) is var (otherSpec, otherJob))
            {
                logger.LogInformation(
                    "Run {RunId} item {ItemId}: the source is {Found}, not {Planned}; the plan was corrected", item.RunId, item.Id,
                    different.Found, different.Planned);
                spec = corrected = otherSpec;
                reply = await AskAsync(otherJob, file, context, cancellation).ConfigureAwait(false);
            }

            if (reply is not ConvertReply made)
            {
                destination.StopIfAway(item, spec);
                destination.StopIfFull(spec.OutputFolder, file);
                placement.Discard(file);
                return ItemOutcome.Failed(reply.Failure ?? "The worker gave no reason.");
            }

            context.ReleaseLane();
            pace.Note(
                ConvertWork.Of(spec.Target, job.Steps.Select(step => step.Kind)),
                (job.Steps is [.., var last] ? last.Output : job.SourceFormat).Duration(made.Proof.FramesOut), time.GetElapsedTime(begun));
            // A proved copy outlives a loss of power.
            using (var handle = PlainFile.OpenHandle(file.TemporaryPath, FileMode.Open, FileAccess.ReadWrite))
                RandomAccess.FlushToDisk(handle);
            var checkpoint = new CopyCheckpoint
            {
                Proof = made.Proof,
                Analysis = made.Analysis,
                KnownDigest = made.Analysis is null ? job.KnownDigest : null,
                Corrected = corrected
            };
            context.Checkpoint(JsonSerializer.Serialize(checkpoint, CopiesJson.Default.CopyCheckpoint));
            return await FinishAsync(item, spec, file, checkpoint, origin).ConfigureAwait(false);
        }
        catch (StorageProblemException)
        {
            // The application ends; proved copies are found through the journal at the next start.
            throw;
        }
        catch (Exception failure)
        {
            placement.Discard(file);
            if (failure is IOException or UnauthorizedAccessException)
                destination.StopIfAway(item, spec);
            throw;
        }
    }

    /// <summary>Finishes a copy that was proved when the server ended; null when it has to be made again.</summary>
    public async Task<ItemOutcome?> RecoverAsync(RunItemRow item, CopySpec spec, DiscOrigin? origin)
    {
        if (item.Checkpoint is null
            || JsonSerializer.Deserialize(item.Checkpoint, CopiesJson.Default.CopyCheckpoint) is not { } checkpoint)
            return null;
        spec = checkpoint.Corrected ?? spec;
        if (checkpoint.PublishedPath is { } published)
            return PlainFile.Exists(published) ? Done(published, null, checkpoint.Proof) : null;
        if (recorder.Find(item.Id) is { Id: > 0 } recorded)
            return Done(recorded.Path, recorded.Id, checkpoint.Proof);
        if (placement.FindOf(item.Id) is not { } found)
            return null;
        if (PlainFile.Exists(found.File.TemporaryPath))
            return await FinishAsync(item, spec, found.File, checkpoint, origin).ConfigureAwait(false);
        return found.FinalPath is { } path && PlainFile.Exists(path)
            ? await RecordAsync(item, spec, found.File, path, checkpoint, origin).ConfigureAwait(false)
            : null;
    }

    public static ItemDescription Describe(RunItemRow item, CopySpec spec, string onFailure)
    {
        var result = CopyResult.Of(item);
        return new ItemDescription("Converting", "Proved")
        {
            Detail = result?.Proof.InWords() ?? "",
            Path = result?.Path is { } path ? Path.GetRelativePath(spec.OutputFolder, path) : null,
            CopyId = result?.CopyId,
            BytesBefore = spec.BytesBefore,
            BytesAfter = result?.Proof.Bytes,
            OnFailure = onFailure,
        };
    }

    private Task<WorkerReply> AskAsync(ConvertJob job, NewFile file, ItemContext context, CancellationToken cancellation)
    {
        // A worker that refused a source may have begun the file.
        PlainFile.Delete(file.TemporaryPath);
        return workers.RunAsync(
            job with { OutputPath = file.TemporaryPath }, WorkerPriority.Requested,
            progress => context.Report(ShareOf(progress), progress.Proving ? "Proving" : null), cancellation);
    }

    private static double ShareOf(WorkerProgress progress)
    {
        double part = progress.Total > 0 ? Math.Clamp((double)progress.Done / progress.Total, 0, 1) : 0;
        return progress.Proving ? EncodingShare + (1 - EncodingShare) * part : EncodingShare * part;
    }

    private async Task<ItemOutcome> FinishAsync(RunItemRow item, CopySpec spec, NewFile file, CopyCheckpoint checkpoint, DiscOrigin? origin)
    {
        string path;
        try
        {
            path = placement.Publish(file, spec.WantedPath, existing => conflicts.FreeName(existing, spec), spec.CompanionExtension);
        }
        catch (NameTakenException)
        {
            placement.Discard(file);
            return ItemOutcome.Skipped("A file with this name appeared in the meantime and was left untouched.");
        }

        return await RecordAsync(item, spec, file, path, checkpoint, origin).ConfigureAwait(false);
    }

    private async Task<ItemOutcome> RecordAsync(
        RunItemRow item, CopySpec spec, NewFile file, string path, CopyCheckpoint checkpoint, DiscOrigin? origin)
    {
        var recorded = spec.IsUnlisted
            ? recorder.RecordUnlisted(item, path, checkpoint)
            : await recorder.RecordAsync(item, spec, path, checkpoint, origin).ConfigureAwait(false);
        if (recorded.Problem is { } problem)
            return ItemOutcome.Failed($"The new file was proved and is at {path}, but could not be added to the library: {problem}");
        placement.Settle(file);
        logger.LogInformation("Run {RunId} item {ItemId}: proved and published", item.RunId, item.Id);
        return Done(path, recorded.CopyId, checkpoint.Proof);
    }

    private static ItemOutcome Done(string path, long? copyId, Proof proof) =>
        ItemOutcome.Done(
            JsonSerializer.Serialize(new CopyResult { Path = path, CopyId = copyId, Proof = proof }, CopiesJson.Default.CopyResult));
}
