using System.Threading.Channels;
using Dapper;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Data;
using Wergamon.App.Files;

namespace Wergamon.App.Library;

/// <summary>A music folder and what is in it.</summary>
public sealed record MusicFolder
{
    public long Id { get; init; }

    public string Path { get; init; } = "";

    public long? ScannedAt { get; init; }

    public int Copies { get; init; }

    public int Missing { get; init; }

    public int Damaged { get; init; }

    public int Unreadable { get; init; }

    public bool IsScanning { get; set; }
}

/// <summary>A file that looks like music and cannot be read.</summary>
public sealed record UnreadableFile
{
    public string Path { get; init; } = "";

    public string Reason { get; init; } = "";
}

/// <summary>The folders whose music is in the library, and the scanning of them in the background.</summary>
public sealed class MusicFolders(Database database, AllowedPaths allowed, FileScanner scanner, LibraryWriter writer, TimeProvider time, ILogger<MusicFolders> logger)
    : BackgroundService
{
    /// <summary>Files are written to the database in groups, so that the library fills while the scan goes on.</summary>
    private const int GroupSize = 64;

    private readonly Channel<long> _queue = Channel.CreateUnbounded<long>();
    private readonly HashSet<long> _scanning = [];

    /// <summary>Raised when a scan has put something into the library.</summary>
    public event Action? Changed;

    /// <summary>Adds a folder by its path and starts to scan it; gives the reason, for the person, when it cannot be added.</summary>
    public string? Add(string? typed)
    {
        var check = allowed.CheckMusicFolder(typed);
        if (check.Path is not { } path)
            return check.Refusal;
        using var connection = database.Open();
        var parent = connection.QueryFirstOrDefault<string>(
            "SELECT path FROM folder WHERE @path = path OR @path LIKE REPLACE(REPLACE(path, '%', '\\%'), '_', '\\_') || '/%' ESCAPE '\\'", new { path });
        if (parent == path)
            return $"{path} is a music folder already.";
        if (parent is not null)
            return $"{path} lies in the music folder {parent}, so its music is in the library already.";
        long id = connection.ExecuteScalar<long>(
            "INSERT INTO folder (path, added_at) VALUES (@path, @now) RETURNING id", new { path, now = time.GetUtcNow().ToUnixTimeMilliseconds() });
        Rescan(id);
        return null;
    }

    public void Rescan(long id)
    {
        lock (_scanning)
        {
            if (!_scanning.Add(id))
                return;
        }

        _queue.Writer.TryWrite(id);
    }

    public IReadOnlyList<MusicFolder> List()
    {
        using var connection = database.Open();
        var folders = connection.Query<MusicFolder>(
            """
            SELECT f.id, f.path, f.scanned_at,
                (SELECT COUNT(*) FROM copy WHERE folder_id = f.id) AS copies,
                (SELECT COUNT(*) FROM copy WHERE folder_id = f.id AND is_missing) AS missing,
                (SELECT COUNT(*) FROM copy WHERE folder_id = f.id AND damage IS NOT NULL) AS damaged,
                (SELECT COUNT(*) FROM unreadable_file WHERE folder_id = f.id) AS unreadable
            FROM folder f ORDER BY f.path
            """).AsList();
        lock (_scanning)
        {
            foreach (var folder in folders)
                folder.IsScanning = _scanning.Contains(folder.Id);
        }

        return folders;
    }

    public IReadOnlyList<UnreadableFile> ListUnreadable()
    {
        using var connection = database.Open();
        return connection.Query<UnreadableFile>("SELECT path, reason FROM unreadable_file ORDER BY path LIMIT 500").AsList();
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        foreach (var folder in List())
            Rescan(folder.Id);
        await foreach (long id in _queue.Reader.ReadAllAsync(stoppingToken).ConfigureAwait(false))
        {
            try
            {
                await ScanAsync(id, stoppingToken).ConfigureAwait(false);
            }
            catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
            {
                logger.LogWarning(failure, "Scan of folder {FolderId} ended early", id);
            }
            finally
            {
                lock (_scanning)
                    _scanning.Remove(id);
                Changed?.Invoke();
            }
        }
    }

    private async Task ScanAsync(long id, CancellationToken cancellation)
    {
        var (path, known) = ReadKnown(id);
        if (path is null || !Directory.Exists(path))
            return;
        var seen = new HashSet<string>();
        var group = new List<Task<ScannedFile>>();
        foreach (var file in FilesBelow(path))
        {
            seen.Add(file.FullName);
            if (known.TryGetValue(file.FullName, out var before) && before == (file.Length, FileScanner.ModifiedAt(file)))
                continue;
            group.Add(Task.Run(() => scanner.ScanAsync(file, cancellation), cancellation));
            if (group.Count == GroupSize)
                await SaveAsync(id, group).ConfigureAwait(false);
        }

        await SaveAsync(id, group).ConfigureAwait(false);
        Finish(id, seen);
    }

    private (string? Path, Dictionary<string, (long Bytes, long ModifiedAt)> Known) ReadKnown(long id)
    {
        using var connection = database.Open();
        var path = connection.QueryFirstOrDefault<string>("SELECT path FROM folder WHERE id = @id", new { id });
        var known = new Dictionary<string, (long Bytes, long ModifiedAt)>();
        var rows = connection.Query<(string Path, long Bytes, long ModifiedAt)>(
            """
            SELECT path, file_bytes, modified_at FROM copy WHERE folder_id = @id AND NOT is_missing
            UNION ALL SELECT path, file_bytes, modified_at FROM unreadable_file WHERE folder_id = @id
            """,
            new { id });
        foreach (var row in rows)
            known[row.Path] = (row.Bytes, row.ModifiedAt);
        return (path, known);
    }

    private static IEnumerable<FileInfo> FilesBelow(string path)
    {
        var options = new EnumerationOptions { RecurseSubdirectories = true, IgnoreInaccessible = true, AttributesToSkip = FileAttributes.Hidden | FileAttributes.ReparsePoint };
        return new DirectoryInfo(path).EnumerateFiles("*", options).Where(file => FileScanner.LooksLikeSound(file.Name)).OrderBy(file => file.FullName, StringComparer.Ordinal);
    }

    private async Task SaveAsync(long folderId, List<Task<ScannedFile>> group)
    {
        if (group.Count == 0)
            return;
        var files = await Task.WhenAll(group).ConfigureAwait(false);
        group.Clear();
        database.Change(connection =>
        {
            foreach (var file in files)
            {
                if (file.Unreadable is null)
                    writer.SaveScanned(connection, folderId, file);
                else
                    LibraryWriter.SaveUnreadable(connection, folderId, file);
            }
        });
        logger.LogInformation("Folder {FolderId}: {Count} files scanned", folderId, files.Length);
        Changed?.Invoke();
    }

    /// <summary>Files that are gone are kept as missing; albums that lost all their tracks to a change of tags go.</summary>
    private void Finish(long id, HashSet<string> seen) => database.Change(connection =>
    {
        foreach (var (copyId, path) in connection.Query<(long Id, string Path)>("SELECT id, path FROM copy WHERE folder_id = @id AND NOT is_missing", new { id }).AsList())
        {
            if (!seen.Contains(path))
                connection.Execute("UPDATE copy SET is_missing = 1 WHERE id = @copyId", new { copyId });
        }

        foreach (var path in connection.Query<string>("SELECT path FROM unreadable_file WHERE folder_id = @id", new { id }).AsList().Where(path => !seen.Contains(path)))
            connection.Execute("DELETE FROM unreadable_file WHERE path = @path", new { path });
        connection.Execute("DELETE FROM album WHERE NOT EXISTS (SELECT 1 FROM track WHERE album_id = album.id)");
        connection.Execute("UPDATE folder SET scanned_at = @now WHERE id = @id", new { id, now = time.GetUtcNow().ToUnixTimeMilliseconds() });
    });
}
