using System.Data;
using System.Globalization;
using Dapper;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Files;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;

namespace Wergamon.App.Library.Removing;

/// <summary>
/// Keeps removed and replaced files for thirty days, then deletes them. A copy keeps its row in the meantime, and
/// with it its tags, its place in sets and its lineage. Each move is recorded before it happens, so that
/// after a crash it is known where the file is.
/// </summary>
public sealed class Trash(
    Database database, AppOptions options, AllowedPaths allowed, Placement placement, CopyHistory history, TimeProvider time,
    ILogger<Trash> logger)
    : BackgroundService
{
    public static readonly TimeSpan KeptFor = TimeSpan.FromDays(30);

    private static readonly TimeSpan LookEvery = TimeSpan.FromHours(1);

    private const string Columns = "id, copy_id, path, place, file_bytes, reason, taken_at, age_ms";

    private readonly UptimeClock _seen = new(time, LookEvery);

    /// <summary>Moves a file whose name a newer file needs to the trash; returns its path there.</summary>
    public string TakeReplaced(string path) => TakeFile(path, "replaced by a newer file");

    /// <summary>Moves a file that is not a copy of the library to the trash; returns its path there.</summary>
    public string TakeFile(string path, string reason)
    {
        var place = NewPlace(path);
        long id = Record(path, place, PlainFile.Length(path), copyId: null, reason);
        try
        {
            return placement.Move(path, place);
        }
        catch
        {
            Drop(id);
            throw;
        }
    }

    /// <summary>Moves the file of a copy to the trash; returns the reason, for the person, when that is not possible.</summary>
    public string? Take(CopyRow copy, string reason)
    {
        if (copy.IsMissing || !PlainFile.Exists(copy.Path))
            return $"{copy.Path} is missing.";
        if (IsAtWork(copy.Id))
            return $"A run is still using {copy.Path}.";
        var place = NewPlace(copy.Path);
        long id = Record(copy.Path, place, copy.FileBytes, copy.Id, reason);
        try
        {
            placement.Move(copy.Path, place);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            Drop(id);
            return $"{copy.Path} cannot be moved: {failure.Message}";
        }

        database.Change(connection => MarkTaken(connection, copy.Id, place));
        logger.LogInformation("Copy {CopyId} went into the trash: {Reason}", copy.Id, reason);
        return null;
    }

    /// <summary>True while the file of a copy is in the trash.</summary>
    public bool Holds(long copyId)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM copy WHERE id = @copyId AND is_trashed)", new { copyId });
    }

    /// <summary>
    /// Restores a file to its old place, or beside it if the name is taken; returns the reason when that is not possible.
    /// </summary>
    public string? PutBack(long id)
    {
        if (Find(id) is not { } item)
            return "This is no longer in the trash.";
        var folder = Path.GetDirectoryName(item.Path)!;
        if (AllowedPaths.Resolve(folder) is not { } resolved || !allowed.IsAllowed(resolved))
            return $"Wergamon may not write to {folder}. Start it with --allow to add the folder.";
        try
        {
            placement.Move(
                item.Place, item.Path, isFree: path => !IsKnown(path),
                recordPlace: path => database.Change(connection => MarkReturning(connection, item, path)));
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            if (item.CopyId is { } copyId)
                database.Change(connection => MarkTaken(connection, copyId, item.Place));
            return $"{item.Path} cannot be put back: {failure.Message}";
        }

        database.Change(connection =>
        {
            if (item.CopyId is { } copyId)
            {
                connection.Execute("UPDATE copy SET is_missing = 0 WHERE id = @copyId", new { copyId });
                history.Note(connection, copyId, "restored from the trash");
            }

            connection.Execute("DELETE FROM trash_item WHERE id = @id", new { id });
        });
        Placement.RemoveEmptyFolder(Path.GetDirectoryName(item.Place)!);
        return null;
    }

    /// <summary>Deletes a file permanently.</summary>
    public void Remove(long id)
    {
        if (Find(id) is not { } item)
            return;
        PlainFile.Delete(item.Place);
        database.Change(connection =>
        {
            if (item.CopyId is { } copyId)
                LibraryWriter.ForgetCopies(connection, "id = @copyId", new { copyId });
            connection.Execute("DELETE FROM trash_item WHERE id = @id", new { id });
        });
        Placement.RemoveEmptyFolder(Path.GetDirectoryName(item.Place)!);
        logger.LogInformation("Deleted from the trash: {Place}", item.Place);
    }

    /// <summary>Contents of the trash, the latest first.</summary>
    public IReadOnlyList<TrashItem> List()
    {
        using var connection = database.Open();
        return connection.Query<TrashItem>($"SELECT {Columns} FROM trash_item ORDER BY taken_at DESC, id DESC").AsList();
    }

    /// <summary>Deletes files that have been there long enough, counted in time that the server was running.</summary>
    public void EmptyByAge()
    {
        var passed = _seen.Look();
        if (passed > TimeSpan.Zero)
            database.Change(
                connection =>
                    connection.Execute("UPDATE trash_item SET age_ms = age_ms + @ms", new { ms = (long)passed.TotalMilliseconds }));
        if (!_seen.IsSteady)
            return;
        foreach (var item in List().Where(item => item.Remaining <= TimeSpan.Zero))
        {
            try
            {
                Remove(item.Id);
            }
            catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
            {
                logger.LogWarning("A file stays in the trash: {Place}: {Reason}", item.Place, failure.Message);
            }
        }
    }

    /// <summary>Cleans up after a crash before anything else can use the trash.</summary>
    public override Task StartAsync(CancellationToken cancellationToken)
    {
        Guard.Try(logger, "Settling the trash", SettleAfterCrash);
        return base.StartAsync(cancellationToken);
    }

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        Guard.KeepRunningAsync(logger, time, nameof(Trash), RunAsync, stoppingToken);

    private async Task RunAsync(CancellationToken stoppingToken)
    {
        using var timer = new PeriodicTimer(LookEvery, time);
        do
        {
            Guard.Try(logger, "Emptying the trash", EmptyByAge);
        }
        while (await timer.WaitForNextTickAsync(stoppingToken).ConfigureAwait(false));
    }

    /// <summary>Brings the records in line with the files after a crash.</summary>
    private void SettleAfterCrash()
    {
        placement.FinishMoves();
        foreach (var rename in placement.UnrecordedRenames())
            database.Change(
                connection =>
                    connection.Execute("UPDATE OR IGNORE copy SET path = @FinalPath WHERE path = @SourcePath AND NOT is_trashed", rename));
        foreach (var item in List())
        {
            if (!PlainFile.Exists(item.Place))
                Drop(item.Id);
            else if (item.CopyId is { } copyId)
                database.Change(connection => MarkTaken(connection, copyId, item.Place));
        }
    }

    private string NewPlace(string path)
    {
        var stamp = time.GetUtcNow().ToString("yyyyMMdd-HHmmss-fff", CultureInfo.InvariantCulture);
        var folder = Path.Combine(options.Folders.Trash, stamp + "-" + Guid.NewGuid().ToString("N")[..6]);
        PlainFolder.Create(folder);
        return Path.Combine(folder, Path.GetFileName(path));
    }

    private long Record(string path, string place, long bytes, long? copyId, string reason)
    {
        return database.Change(connection => connection.ExecuteScalar<long>(
            "INSERT INTO trash_item (copy_id, path, place, file_bytes, reason, taken_at) "
                + "VALUES (@copyId, @path, @place, @bytes, @reason, @now) RETURNING id",
            new { copyId, path, place, bytes, reason, now = time.GetUtcNow().ToUnixTimeMilliseconds() }));
    }

    private TrashItem? Find(long id)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<TrashItem>($"SELECT {Columns} FROM trash_item WHERE id = @id", new { id });
    }

    private bool IsKnown(string path)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM copy WHERE path = @path)", new { path });
    }

    private void Drop(long id)
    {
        database.Change(connection => connection.Execute("DELETE FROM trash_item WHERE id = @id", new { id }));
    }

    private bool IsAtWork(long copyId)
    {
        using var connection = database.Open();
        return RunStore.IsAtWork(connection, "@copyId", new { copyId });
    }

    private void MarkTaken(IDbConnection connection, long copyId, string place)
    {
        int changed = connection.Execute(
            "UPDATE copy SET path = @place, folder_id = NULL, is_trashed = 1, is_missing = 1 WHERE id = @copyId AND NOT is_trashed",
            new { copyId, place });
        if (changed > 0)
            history.Note(connection, copyId, "moved to the trash");
    }

    /// <summary>Marked as missing until the file is back: a scan in between recognises it as the same copy.</summary>
    private static void MarkReturning(IDbConnection connection, TrashItem item, string path)
    {
        connection.Execute("UPDATE trash_item SET path = @path WHERE id = @Id", new { item.Id, path });
        connection.Execute(
            """
            UPDATE copy SET path = @path, is_trashed = 0, is_missing = 1, file_number = 0,
                folder_id = (SELECT id FROM folder WHERE substr(@path, 1, length(path) + 1) = path || '/' ORDER BY length(path) DESC
                    LIMIT 1)
            WHERE id = @CopyId
            """,
            new { item.CopyId, path });
    }
}
