using System.Globalization;
using Dapper;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Files;
using Wergamon.App.Library.Scan;
using Wergamon.App.Storage;
using Wergamon.Core.Naming;

namespace Wergamon.App.Intake.Upload;

/// <summary>
/// Takes files that are uploaded through the browser, in pieces, into a music folder. What has arrived stays, so that an
/// interrupted file goes on where it stopped; only a whole file gets its name.
/// </summary>
public sealed class Uploads(
    Database database, AllowedPaths allowed, Placement placement, UploadBatches batches, TimeProvider time, ILogger<Uploads> logger)
    : BackgroundService
{
    /// <summary>Hidden from scans, and on the same file system as the folder that the files are meant for.</summary>
    private const string ArrivalFolder = ".wergamon-incoming";

    /// <summary>Space that uploads always leave free.</summary>
    private const long Reserve = 200_000_000;

    private const int BufferBytes = 128 * 1024;

    /// <summary>The error of a full disk on Linux, as .NET reports it.</summary>
    private const int NoSpace = 28;

    private static readonly TimeSpan KeptFor = TimeSpan.FromDays(7), LookEvery = TimeSpan.FromHours(6);

    /// <summary>Checks all files before any of them is sent to a music folder.</summary>
    public OfferReply Offer(long folderId, IReadOnlyList<OfferedFile> files) =>
        FolderPath(folderId) is { } folder
            ? Offer(new Destination(folderId, null, folder), files)
            : new OfferReply("This music folder is gone. Choose another one.", []);

    /// <summary>Checks all files before any of them is sent to a batch.</summary>
    public OfferReply OfferToBatch(long batchId, IReadOnlyList<OfferedFile> files) =>
        batches.PathOf(batchId) is { } folder
            ? Offer(new Destination(null, batchId, folder), files)
            : new OfferReply("This upload has expired. Drop the files again.", []);

    /// <summary>Where files go: a music folder, or the folder of a batch.</summary>
    private sealed record Destination(long? FolderId, long? BatchId, string Path);

    private OfferReply Offer(Destination to, IReadOnlyList<OfferedFile> files)
    {
        var folder = to.Path;
        if (!PlainFolder.Exists(folder))
            return new OfferReply($"{folder} is missing.", []);
        try
        {
            PlainFolder.Create(Path.Combine(folder, ArrivalFolder));
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            return new OfferReply($"{folder} cannot be written to. {failure.Message}", []);
        }

        var answers = files.Select(file => Answer(to, file)).ToList();
        long wanted = files.Zip(answers).Where(pair => pair.Second.Refusal is null).Sum(pair => pair.First.Bytes - pair.Second.Received);
        long free = new DriveInfo(folder).AvailableFreeSpace;
        if (wanted > free - Reserve)
        {
            Drop([.. answers.Where(answer => answer is { Id: not null, Received: 0 }).Select(answer => answer.Id!.Value)]);
            return new OfferReply(
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"These files need {wanted / 1e9:0.0} GB, and only {Math.Max(0, free - Reserve) / 1e9:0.0} GB are free for {folder}."),
                []);
        }

        return new OfferReply(null, answers);
    }

    /// <summary>Receives the next bytes of a file; publishes the file once it is complete.</summary>
    /// <param name="id">From the answer to the offer.</param>
    /// <param name="at">Where in the file the bytes belong.</param>
    /// <param name="bytes">Read until its end, or until the file is whole.</param>
    /// <param name="cancellation">What has arrived until then stays.</param>
    /// <returns>Null for a file that nobody offered, or that was done before.</returns>
    public async Task<Arrival?> ReceiveAsync(long id, long at, Stream bytes, CancellationToken cancellation)
    {
        if (Find(id) is not { } upload)
            return null;
        var part = PartPath(upload);
        FileStream file;
        try
        {
            PlainFolder.Create(Path.GetDirectoryName(part)!);
            file = PlainFile.Open(part, FileMode.OpenOrCreate, FileAccess.Write, isExclusive: true);
        }
        catch (Exception failure)
            when (failure is UnauthorizedAccessException || failure is IOException and not IOException { HResult: NoSpace })
        {
            return new Arrival(ArrivalState.WrongPlace, ReceivedOf(upload));
        }

        await using (file.ConfigureAwait(false))
        {
            if (file.Length != at)
                return new Arrival(ArrivalState.WrongPlace, file.Length);
            file.Position = at;
            await CopyAsync(bytes, file, upload.FileBytes, cancellation).ConfigureAwait(false);
            if (file.Length < upload.FileBytes)
                return new Arrival(ArrivalState.Partly, file.Length);
            file.Flush(flushToDisk: true);
        }

        return Finish(upload, part);
    }

    /// <summary>Incomplete uploads, the latest first.</summary>
    public IReadOnlyList<(UploadRow Upload, long Received)> Unfinished()
    {
        using var connection = database.Open();
        return [
            .. connection.Query<UploadRow>(Select + " ORDER BY u.started_at DESC, u.id").Select(upload => (upload, ReceivedOf(upload)))
        ];
    }

    /// <summary>Discards incomplete uploads and what has arrived of them.</summary>
    public void Drop(IReadOnlyCollection<long> ids)
    {
        foreach (var upload in ids.Select(Find).OfType<UploadRow>())
        {
            if (PlainFile.Exists(PartPath(upload)))
                PlainFile.Delete(PartPath(upload));
            Forget(upload);
        }
    }

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        Guard.KeepRunningAsync(logger, time, nameof(Uploads), RunAsync, stoppingToken);

    private async Task RunAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(LookEvery, time);
        do
        {
            long oldest = (time.GetUtcNow() - KeptFor).ToUnixTimeMilliseconds();
            Guard.Try(logger, "Clearing up old uploads", batches.RemoveOld);
            foreach (var (upload, _) in Unfinished().Where(each => each.Upload.StartedAt < oldest))
                Guard.Try(logger, $"Discarding the upload {upload.Path}", () => Drop([upload.Id]));
        }
        while (await timer.WaitForNextTickAsync(stoppingToken).ConfigureAwait(false));
    }

    private const string Select =
        "SELECT u.id, COALESCE(f.path, b.path) AS folder_path, u.path, u.file_bytes, u.modified_at, u.started_at FROM upload u LEFT "
            + "JOIN folder f ON f.id = u.folder_id LEFT JOIN upload_batch b ON b.id = u.batch_id";

    private OfferAnswer Answer(Destination to, OfferedFile file)
    {
        var folder = to.Path;
        var (path, refusal) = UploadPath.Check(file.Path);
        if (path is null)
            return new OfferAnswer(null, 0, refusal);
        if (!FileScanner.LooksLikeSound(path) && !UploadPath.IsCompanion(path))
            return new OfferAnswer(null, 0, "Not a music, picture or text file.");
        if (file.Bytes <= 0)
            return new OfferAnswer(null, 0, "The file is empty.");
        // A link inside the music folder must not lead out of it.
        var target = Path.Combine(folder, path);
        if (AllowedPaths.Resolve(Path.GetDirectoryName(target)) is not { } resolved || !IsWithin(resolved, folder)
            || !allowed.IsAllowed(resolved))
            return new OfferAnswer(null, 0, "Its folder is outside the music folder.");
        long id = database.Change(connection => connection.ExecuteScalar<long>(
            """
            INSERT INTO upload (folder_id, batch_id, path, file_bytes, modified_at, started_at)
                VALUES (@FolderId, @BatchId, @path, @Bytes, @ModifiedAt, @now)
            ON CONFLICT (COALESCE(folder_id, 0), COALESCE(batch_id, 0), path, file_bytes, modified_at) DO UPDATE
                SET started_at = excluded.started_at RETURNING id
            """,
            new { to.FolderId, to.BatchId, path, file.Bytes, file.ModifiedAt, now = time.GetUtcNow().ToUnixTimeMilliseconds() }));
        return new OfferAnswer(id, ReceivedOf(Find(id)!), null);
    }

    private static bool IsWithin(string path, string folder) =>
        AllowedPaths.Resolve(folder) is { } root && AllowedPaths.IsBelow(path, root);

    private static async Task CopyAsync(Stream bytes, FileStream file, long wholeLength, CancellationToken cancellation)
    {
        var buffer = new byte[BufferBytes];
        while (file.Length < wholeLength)
        {
            int got = await bytes.ReadAsync(buffer.AsMemory(0, (int)Math.Min(buffer.Length, wholeLength - file.Length)), cancellation)
                .ConfigureAwait(false);
            if (got == 0)
                return;
            await file.WriteAsync(buffer.AsMemory(0, got), CancellationToken.None).ConfigureAwait(false);
        }
    }

    private Arrival Finish(UploadRow upload, string part)
    {
        var wanted = Path.Combine(upload.FolderPath, upload.Path);
        try
        {
            PlainFile.SetModified(
                part,
                DateTimeOffset.FromUnixTimeMilliseconds(
                    Math.Clamp(upload.ModifiedAt, 0, time.GetUtcNow().ToUnixTimeMilliseconds())).UtcDateTime);
            var (path, wasThere) = placement.PublishUnlessThere(part, wanted);
            Forget(upload);
            logger.LogInformation("Upload {UploadId} is complete", upload.Id);
            return new Arrival(wasThere ? ArrivalState.WasThere : ArrivalState.Done, upload.FileBytes, path);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            return new Arrival(ArrivalState.Refused, upload.FileBytes, null, $"It cannot be moved to its folder: {failure.Message}");
        }
    }

    private UploadRow? Find(long id)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<UploadRow>(Select + " WHERE u.id = @id", new { id });
    }

    private string? FolderPath(long folderId)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<string>("SELECT path FROM folder WHERE id = @folderId", new { folderId });
    }

    private void Forget(UploadRow upload)
    {
        database.Change(connection => connection.Execute("DELETE FROM upload WHERE id = @Id", new { upload.Id }));
        Placement.RemoveEmptyFolder(Path.Combine(upload.FolderPath, ArrivalFolder));
    }

    private static long ReceivedOf(UploadRow upload) => PlainFile.Length(PartPath(upload));

    private static string PartPath(UploadRow upload) =>
        Path.Combine(upload.FolderPath, ArrivalFolder, upload.Id.ToString(CultureInfo.InvariantCulture) + ".part");
}
