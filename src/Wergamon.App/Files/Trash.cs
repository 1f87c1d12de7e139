using System.Data;
using System.Globalization;
using Dapper;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Data;
using Wergamon.App.Library;
using Wergamon.Core.Names;

namespace Wergamon.App.Files;

/// <summary>A file that lies in the trash.</summary>
public sealed record TrashItem
{
    public long Id { get; init; }

    /// <summary>Null for a file that was replaced by a newer one.</summary>
    public long? CopyId { get; init; }

    /// <summary>Where it was.</summary>
    public string Path { get; init; } = "";

    /// <summary>Where it lies.</summary>
    public string Place { get; init; } = "";

    public long FileBytes { get; init; }

    public string Reason { get; init; } = "";

    public long TakenAt { get; init; }

    /// <summary>When it is removed for good, in Unix milliseconds.</summary>
    public long RemovedAt => TakenAt + (long)Trash.KeptFor.TotalMilliseconds;
}

/// <summary>
/// Where files go that were tidied away or replaced: kept for thirty days, then removed. A copy keeps its row meanwhile, and
/// with it its tags, its place in sets and its lineage. What is to be done is written down before a file is moved, so that
/// after a crash it is known where the file is.
/// </summary>
public sealed class Trash(Database database, AppOptions options, AllowedPaths allowed, CopyHistory history, TimeProvider time, ILogger<Trash> logger) : BackgroundService
{
    public static readonly TimeSpan KeptFor = TimeSpan.FromDays(30);

    private static readonly TimeSpan LookEvery = TimeSpan.FromHours(6);

    private const string Columns = "id, copy_id, path, place, file_bytes, reason, taken_at";

    /// <summary>Moves the file away that has a name which a newer file is to get; returns where it lies now.</summary>
    public string TakeReplaced(string path)
    {
        var place = NewPlace(path);
        Record(path, place, new FileInfo(path).Length, copyId: null, "replaced by a newer file");
        File.Move(path, place);
        return place;
    }

    /// <summary>Moves the file of a copy into the trash; gives the reason, for the person, where that cannot be done.</summary>
    public string? Take(CopyRow copy, string reason)
    {
        if (copy.IsMissing || !File.Exists(copy.Path))
            return $"{copy.Path} is not there.";
        if (IsAtWork(copy.Id))
            return $"A run still works with {copy.Path}.";
        var place = NewPlace(copy.Path);
        long id = Record(copy.Path, place, copy.FileBytes, copy.Id, reason);
        try
        {
            File.Move(copy.Path, place);
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

    /// <summary>Moves a file back to where it was, or beside it where the name is taken now; gives the reason where that cannot be done.</summary>
    public string? PutBack(long id)
    {
        if (Find(id) is not { } item)
            return "This is no longer in the trash.";
        var folder = System.IO.Path.GetDirectoryName(item.Path)!;
        if (AllowedPaths.Resolve(folder) is not { } resolved || !allowed.IsAllowed(resolved))
            return $"{folder} is not a place that Wergamon may write to. Start it with --allow to add the place.";
        var path = item.Path;
        for (int number = 2; File.Exists(path) || IsKnown(path); number++)
            path = TrackPath.Numbered(item.Path, number);
        try
        {
            Directory.CreateDirectory(folder);
            database.Change(connection => MarkReturning(connection, item, path));
            File.Move(item.Place, path);
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
                history.Note(connection, copyId, "put back from the trash");
            }

            connection.Execute("DELETE FROM trash_item WHERE id = @id", new { id });
        });
        RemoveFolderOf(item.Place);
        return null;
    }

    /// <summary>Removes a file for good.</summary>
    public void Remove(long id)
    {
        if (Find(id) is not { } item)
            return;
        File.Delete(item.Place);
        database.Change(connection =>
        {
            if (item.CopyId is { } copyId)
                LibraryWriter.ForgetCopies(connection, "id = @copyId", new { copyId });
            connection.Execute("DELETE FROM trash_item WHERE id = @id", new { id });
        });
        RemoveFolderOf(item.Place);
        logger.LogInformation("Removed from the trash for good: {Place}", item.Place);
    }

    /// <summary>What lies there, the latest first.</summary>
    public IReadOnlyList<TrashItem> List()
    {
        using var connection = database.Open();
        return connection.Query<TrashItem>($"SELECT {Columns} FROM trash_item ORDER BY taken_at DESC, id DESC").AsList();
    }

    /// <summary>Removes what has lain there long enough.</summary>
    public void EmptyByAge()
    {
        long oldest = (time.GetUtcNow() - KeptFor).ToUnixTimeMilliseconds();
        foreach (var item in List().Where(item => item.TakenAt < oldest))
            Remove(item.Id);
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        SettleAfterCrash();
        using var timer = new PeriodicTimer(LookEvery, time);
        do
        {
            EmptyByAge();
        }
        while (await timer.WaitForNextTickAsync(stoppingToken).ConfigureAwait(false));
    }

    /// <summary>Brings the records into line with where the files are.</summary>
    private void SettleAfterCrash()
    {
        foreach (var item in List())
        {
            if (!File.Exists(item.Place))
                Drop(item.Id);
            else if (item.CopyId is { } copyId)
                database.Change(connection => MarkTaken(connection, copyId, item.Place));
        }
    }

    private string NewPlace(string path)
    {
        var stamp = time.GetUtcNow().ToString("yyyyMMdd-HHmmss-fff", CultureInfo.InvariantCulture);
        var folder = System.IO.Path.Combine(options.TrashFolder, stamp + "-" + Guid.NewGuid().ToString("N")[..6]);
        Directory.CreateDirectory(folder);
        return System.IO.Path.Combine(folder, System.IO.Path.GetFileName(path));
    }

    private long Record(string path, string place, long bytes, long? copyId, string reason)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<long>(
            "INSERT INTO trash_item (copy_id, path, place, file_bytes, reason, taken_at) VALUES (@copyId, @path, @place, @bytes, @reason, @now) RETURNING id",
            new { copyId, path, place, bytes, reason, now = time.GetUtcNow().ToUnixTimeMilliseconds() });
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
        using var connection = database.Open();
        connection.Execute("DELETE FROM trash_item WHERE id = @id", new { id });
    }

    private bool IsAtWork(long copyId)
    {
        using var connection = database.Open();
        return connection.ExecuteScalar<bool>(
            "SELECT EXISTS (SELECT 1 FROM run_item WHERE source_copy_id = @copyId AND state IN ('waiting', 'working', 'proved'))", new { copyId });
    }

    private void MarkTaken(IDbConnection connection, long copyId, string place)
    {
        int changed = connection.Execute(
            "UPDATE copy SET path = @place, folder_id = NULL, is_trashed = 1, is_missing = 1 WHERE id = @copyId AND NOT is_trashed", new { copyId, place });
        if (changed > 0)
            history.Note(connection, copyId, "moved to the trash");
    }

    /// <summary>Missing until the file is there: a scan that comes between takes it for the same copy.</summary>
    private static void MarkReturning(IDbConnection connection, TrashItem item, string path)
    {
        connection.Execute("UPDATE trash_item SET path = @path WHERE id = @Id", new { item.Id, path });
        connection.Execute(
            """
            UPDATE copy SET path = @path, is_trashed = 0, is_missing = 1, file_number = 0,
                folder_id = (SELECT id FROM folder WHERE substr(@path, 1, length(path) + 1) = path || '/' ORDER BY length(path) DESC LIMIT 1)
            WHERE id = @CopyId
            """,
            new { item.CopyId, path });
    }

    private static void RemoveFolderOf(string place)
    {
        var folder = System.IO.Path.GetDirectoryName(place)!;
        if (Directory.Exists(folder) && !Directory.EnumerateFileSystemEntries(folder).Any())
            Directory.Delete(folder);
    }
}
