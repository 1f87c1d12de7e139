using System.Data;
using System.Text.Json;
using Dapper;
using Microsoft.Extensions.Logging;
using Wergamon.App.Files;
using Wergamon.App.Library.Listening;
using Wergamon.App.Library.Removing;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Copies;

/// <summary>A disc that a copy comes from.</summary>
/// <param name="Reading">What reading the track gave, as JSON; null where nothing is known.</param>
public sealed record DiscOrigin(long DiscId, int DiscTrack, string? Reading);

/// <summary>
/// Makes one copy for an item of a run: a worker encodes and proves it, then it goes to the disk, gets its name and its place
/// in the library. The worker has the next item as soon as its part is done.
/// </summary>
public sealed class CopyMaker(
    Database database, WorkerPool workers, Placement placement, FileScanner scanner, LibraryWriter writer, Trash trash, RunStore runs,
    BackgroundAnalysis analysis, Throughput pace, WorkLoad load, AppOptions options, TimeProvider time, ILogger<CopyMaker> logger)
{
    /// <summary>
    /// What has to be free besides what all workers have written when a disk was full, or they would fill it again at once.
    /// </summary>
    private const long RoomBesides = 2 << 20;

    /// <summary>Encoding and proving together make a copy; proving is the shorter part.</summary>
    private const double EncodingShare = 0.9;

    /// <param name="job">What the worker has to do; its output path is chosen here.</param>
    /// <param name="correct">Corrects the plan for a source that decodes to another format than expected; null when it cannot be.</param>
    /// <exception cref="RunStoppedException">The disk is full, or away.</exception>
    public async Task<ItemOutcome> MakeAsync(
        RunItemRow item, CopySpec spec, ConvertJob job, DiscOrigin? origin, ItemContext context, CancellationToken cancellation,
        Func<DifferentSourceReply, (CopySpec Spec, ConvertJob Job)?>? correct = null)
    {
        using var hold = workers.PauseBackground();
        StopIfAway(item, spec);
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
                StopIfAway(item, spec);
                StopIfFull(spec.OutputFolder, file);
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
            // The application ends; what is proved is found by its journal at the next start.
            throw;
        }
        catch (Exception failure)
        {
            placement.Discard(file);
            if (failure is IOException or UnauthorizedAccessException)
                StopIfAway(item, spec);
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
        if (FindRecorded(item.Id) is { Id: > 0 } recorded)
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

    private void StopIfFull(string folder, NewFile file) =>
        DestinationWait.StopIfFull(folder, RoomBesides + load.MaxWorkers * PlainFile.Length(file.TemporaryPath));

    /// <summary>A run goes nowhere else when the drive that it has written to is taken away.</summary>
    private void StopIfAway(RunItemRow item, CopySpec spec)
    {
        // The spool is on the disk of the database, and rightly empty once all that was made is where it was meant for.
        if (!IsSpool(spec.OutputFolder) && !DestinationWait.HoldsAnything(spec.OutputFolder)
            && runs.HasMadeIn(item.RunId, spec.OutputFolder))
            throw new RunStoppedException(
                $"{spec.OutputFolder} is missing or empty. If its drive was disconnected, connect it again: the run continues "
                    + "automatically.")
            { WaitsFor = new DestinationWait(spec.OutputFolder, 0) };
    }

    private async Task<ItemOutcome> FinishAsync(RunItemRow item, CopySpec spec, NewFile file, CopyCheckpoint checkpoint, DiscOrigin? origin)
    {
        string path;
        try
        {
            path = placement.Publish(file, spec.WantedPath, existing => FreeName(existing, spec), spec.CompanionExtension);
        }
        catch (FileExistsException)
        {
            placement.Discard(file);
            return ItemOutcome.Skipped("A file with this name appeared in the meantime and was left untouched.");
        }

        return await RecordAsync(item, spec, file, path, checkpoint, origin).ConfigureAwait(false);
    }

    private bool FreeName(string existing, CopySpec spec)
    {
        if (spec.IfExists == IfExists.Skip)
            throw new FileExistsException();
        if (spec.IfExists == IfExists.ReplaceOlder && IsNewer(existing, spec))
            throw new FileExistsException();
        if (spec.IfExists is not (IfExists.Replace or IfExists.ReplaceOlder) || existing != spec.WantedPath || !PlainFile.Exists(existing)
            || IsInMusicFolder(existing))
            return false;
        trash.TakeReplaced(existing);
        return true;
    }

    private static bool IsNewer(string existing, CopySpec spec) =>
        existing == spec.WantedPath && spec.Job is { } job && PlainFile.ModifiedUtc(existing) >= PlainFile.ModifiedUtc(job.SourcePath);

    /// <summary>Files that came in by a music folder are sources: they are never replaced, both are kept.</summary>
    private bool IsInMusicFolder(string path)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>(
            "SELECT EXISTS (SELECT 1 FROM copy WHERE path = @path AND folder_id IS NOT NULL)", new { path });
    }

    private async Task<ItemOutcome> RecordAsync(
        RunItemRow item, CopySpec spec, NewFile file, string path, CopyCheckpoint checkpoint, DiscOrigin? origin)
    {
        if (spec.IsUnlisted)
        {
            // Known from now on, whether the end of the item is recorded or not.
            runs.SetCheckpoint(
                item.Id, JsonSerializer.Serialize(checkpoint with { PublishedPath = path }, CopiesJson.Default.CopyCheckpoint));
            placement.Settle(file);
            logger.LogInformation("Run {RunId} item {ItemId}: proved and published outside of the library", item.RunId, item.Id);
            return Done(path, null, checkpoint.Proof);
        }

        // The file has its name: a run that is stopped now still records it, or it would be made a second time.
        var scanned = await scanner.ScanAsync(path, CancellationToken.None).ConfigureAwait(false);
        if (scanned.Facts is null)
            return ItemOutcome.Failed(
                $"The new file was proved and is at {path}, but could not be added to the library: {scanned.Unreadable}");

        // What was counted while proving is truer than what a lossy file's header says.
        scanned = scanned with { Facts = scanned.Facts with { FrameCount = checkpoint.Proof.FramesOut } };
        long copyId = database.Change(connection =>
        {
            long trackId = TrackOf(connection, spec, origin) ?? writer.InsertTrack(connection, scanned);
            long id = writer.InsertCopy(connection, trackId, folderId: null, scanned, spec.Fidelity, spec.Generation);
            connection.Execute(
                """
                INSERT OR REPLACE INTO lineage (copy_id, from_copy_id, target_name, steps, made_at, disc_id, disc_track, reading,
                    run_item_id)
                VALUES (@id, (SELECT id FROM copy WHERE id = @SourceCopyId), @target, @Steps, @now, @discId, @discTrack, @reading, @itemId)
                """,
                new
                {
                    id,
                    spec.SourceCopyId,
                    target = spec.Target.Name,
                    spec.Steps,
                    now = time.GetUtcNow().ToUnixTimeMilliseconds(),
                    discId = origin?.DiscId,
                    discTrack = origin?.DiscTrack,
                    reading = origin?.Reading,
                    itemId = item.Id,
                });
            if (checkpoint.Analysis is { } found)
                AnalysisRows.Save(connection, id, found, failure: null);
            else if (checkpoint.KnownDigest is { } digest && spec.SourceCopyId is { } source)
                AnalysisRows.TakeOver(connection, id, source, digest);
            return id;
        });
        placement.Settle(file);
        analysis.Wake();
        logger.LogInformation("Run {RunId} item {ItemId}: proved and published", item.RunId, item.Id);
        return Done(path, copyId, checkpoint.Proof);
    }

    private static ItemOutcome Done(string path, long? copyId, Proof proof) =>
        ItemOutcome.Done(
            JsonSerializer.Serialize(new CopyResult { Path = path, CopyId = copyId, Proof = proof }, CopiesJson.Default.CopyResult));

    /// <summary>
    /// The track of the source, which may be another than at planning; of copies from the same place of the same disc, the first makes it.
    /// </summary>
    private static long? TrackOf(IDbConnection connection, CopySpec spec, DiscOrigin? origin) => spec.IsNewTrack ? null
        : spec.SourceCopyId is not null
        ? connection.QueryFirstOrDefault<long?>(
            "SELECT track_id FROM copy WHERE id = @SourceCopyId UNION ALL SELECT id FROM track WHERE id = @TrackId LIMIT 1",
            new { spec.SourceCopyId, spec.TrackId })
        : origin is null ? null
        : connection.QueryFirstOrDefault<long?>(
            "SELECT c.track_id FROM lineage l JOIN copy c ON c.id = l.copy_id WHERE l.disc_id = @DiscId AND l.disc_track = @DiscTrack "
                + "LIMIT 1",
            new { origin.DiscId, origin.DiscTrack });

    private (long Id, string Path) FindRecorded(long itemId)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<(long Id, string Path)>(
            "SELECT c.id, c.path FROM lineage l JOIN copy c ON c.id = l.copy_id WHERE l.run_item_id = @itemId", new { itemId });
    }

    /// <summary>The name is in use, and the person said to skip then.</summary>
    private sealed class FileExistsException : Exception;

    /// <summary>True for a folder in which files wait only until they are where they were made for.</summary>
    private bool IsSpool(string path) =>
        AllowedPaths.IsBelow(path, options.SpoolFolder) || AllowedPaths.IsBelow(path, options.DeliverySpoolFolder);
}
