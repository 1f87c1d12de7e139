using System.Threading.Channels;
using Dapper;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Storage;

namespace Wergamon.App.Library.Scan;

/// <summary>A file with what is wrong with it.</summary>
public sealed record FileProblem
{
    public string Path { get; init; } = "";

    public string Reason { get; init; } = "";
}

/// <summary>The folders whose music is in the library: scanned at startup, then watched.</summary>
public sealed class MusicFolders(
    Database database, ChangeBackups backups, AllowedPaths allowed, FolderScan scan, TimeProvider time, ILogger<MusicFolders> logger)
    : BackgroundService
{
    /// <summary>More problems than anybody reads.</summary>
    private const int MaxTroubles = 500;

    /// <summary>Tables whose rows belong to a folder.</summary>
    private static readonly string[] TablesOfFolder = ["copy", "unreadable_file", "upload"];

    private static readonly TimeSpan NewFor = TimeSpan.FromDays(1);

    private readonly Channel<long> _queue = Channel.CreateUnbounded<long>();
    private readonly HashSet<long> _waiting = [];

    // Folders whose music is being removed from the library: no scan may add it again in the meantime.
    private readonly HashSet<long> _closed = [];
    private readonly Dictionary<long, FolderWatch> _watches = [];
    private long? _scanning;

    /// <summary>Raised when a scan has added something to the library.</summary>
    public event Action? Changed;

    /// <summary>Adds a folder by its path and starts to scan it; gives the reason, for the person, when it cannot be added.</summary>
    public string? Add(string? typed)
    {
        var check = allowed.CheckMusicFolder(typed);
        if (check.Path is not { } path)
            return check.Refusal;
        using var connection = database.Open();
        var parent = connection.QueryFirstOrDefault<string>(
            "SELECT path FROM folder WHERE @path = path OR @path LIKE REPLACE(REPLACE(path, '%', '\\%'), '_', '\\_') || '/%' ESCAPE '\\'",
            new { path });
        if (parent == path)
            return $"{path} is already a music folder.";
        if (parent is not null)
            return $"{path} is inside the music folder {parent}, so its music is already in the library.";
        // Music folders below the new one become part of it: no file is read twice.
        var below = connection.Query<long>("SELECT id FROM folder WHERE substr(path, 1, length(@path) + 1) = @path || '/'", new { path })
            .AsList();
        foreach (long child in below)
            Unwatch(child);
        long? id = database.Change<long?>(changing =>
        {
            // Somebody may have added it just now.
            if (changing.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM folder WHERE path = @path)", new { path }))
                return null;
            long added = changing.ExecuteScalar<long>(
                "INSERT INTO folder (path, added_at) VALUES (@path, @now) RETURNING id",
                new { path, now = time.GetUtcNow().ToUnixTimeMilliseconds() });
            foreach (var table in TablesOfFolder)
                changing.Execute($"UPDATE {table} SET folder_id = @added WHERE folder_id IN @below", new { added, below });
            changing.Execute("DELETE FROM folder WHERE id IN @below", new { below });
            return added;
        });
        if (id is not { } folder)
            return $"{path} is already a music folder.";
        Rescan(folder);
        return null;
    }

    /// <summary>Rescans a folder; if a scan is running, once more after it.</summary>
    public void Rescan(long id)
    {
        lock (_waiting)
        {
            if (!_waiting.Add(id))
                return;
        }

        _queue.Writer.TryWrite(id);
    }

    public void RescanAll()
    {
        using var connection = database.Open();
        foreach (long id in connection.Query<long>("SELECT id FROM folder"))
            Rescan(id);
    }

    public void SetPaused(long id, bool isPaused)
    {
        database.Change(connection => connection.Execute("UPDATE folder SET is_paused = @isPaused WHERE id = @id", new { id, isPaused }));
        if (isPaused)
            Unwatch(id);
        else
            Rescan(id);
        Changed?.Invoke();
    }

    /// <summary>
    /// Removes a folder and its music from the library; the files stay. Returns the reason when that is not possible now.
    /// </summary>
    public string? Remove(long id) => TakeOut(id, () =>
    {
        Unwatch(id);
        database.Change(connection =>
        {
            LibraryWriter.ForgetCopies(connection, "folder_id = @id", new { id });
            connection.Execute("DELETE FROM folder WHERE id = @id", new { id });
        });
    });

    /// <summary>Removes missing files from the library; returns the reason when that is not possible now.</summary>
    public string? ForgetMissing(long id) =>
        TakeOut(
            id, () => database.Change(connection => LibraryWriter.ForgetCopies(connection, "folder_id = @id AND is_missing", new { id })));

    /// <summary>Runs a removal unless a run uses the music; the folder is not scanned meanwhile.</summary>
    private string? TakeOut(long id, Action work)
    {
        lock (_waiting)
        {
            if (_scanning == id)
                return "This folder is being scanned. Try again when the scan has ended.";
            _closed.Add(id);
        }

        try
        {
            if (IsInRun(id))
                return "A run is still using music from this folder. Try again when it has ended.";
            backups.Start();
            work();
        }
        finally
        {
            lock (_waiting)
                _closed.Remove(id);
            // A scan that was skipped in the meantime, unless the folder is gone.
            Rescan(id);
        }

        Changed?.Invoke();
        return null;
    }

    public IReadOnlyList<MusicFolder> List()
    {
        using var connection = database.Open();
        var folders = connection.Query<MusicFolder>(
            """
            SELECT f.id, f.path, f.is_paused, f.scanned_at,
                (SELECT COUNT(*) FROM copy WHERE folder_id = f.id) AS copies,
                (SELECT COUNT(*) FROM copy WHERE folder_id = f.id AND added_at >= @newSince) AS new,
                (SELECT COUNT(*) FROM copy WHERE folder_id = f.id AND is_missing) AS missing,
                (SELECT COUNT(*) FROM copy WHERE folder_id = f.id AND damage IS NOT NULL) AS damaged,
                (SELECT COUNT(*) FROM unreadable_file WHERE folder_id = f.id) AS unreadable
            FROM folder f ORDER BY f.path
            """,
            new { newSince = (time.GetUtcNow() - NewFor).ToUnixTimeMilliseconds() }).AsList();
        lock (_waiting)
        {
            foreach (var folder in folders)
                folder.IsScanning = _scanning == folder.Id || _waiting.Contains(folder.Id);
        }

        foreach (var folder in folders)
            folder.IsThere = PlainFolder.Exists(folder.Path);
        return folders;
    }

    public int Count() => database.Read("folders", connection => connection.ExecuteScalar<int>("SELECT COUNT(*) FROM folder"));

    /// <summary>True while a folder is being scanned or is queued for it.</summary>
    public bool IsScanning
    {
        get
        {
            lock (_waiting)
                return _scanning is not null || _waiting.Count > 0;
        }
    }

    public IReadOnlyList<FileProblem> ListUnreadable()
    {
        using var connection = database.Open();
        return connection.Query<FileProblem>($"SELECT path, reason FROM unreadable_file ORDER BY path LIMIT {MaxTroubles}").AsList();
    }

    public IReadOnlyList<FileProblem> ListDamaged()
    {
        using var connection = database.Open();
        return connection.Query<FileProblem>(
            "SELECT path, damage AS reason FROM copy WHERE damage IS NOT NULL AND folder_id IS NOT NULL ORDER BY path "
                + $"LIMIT {MaxTroubles}").AsList();
    }

    public override void Dispose()
    {
        lock (_watches)
        {
            foreach (var watch in _watches.Values)
                watch.Dispose();
            _watches.Clear();
        }

        base.Dispose();
    }

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        Guard.KeepRunningAsync(logger, time, nameof(MusicFolders), RunAsync, stoppingToken);

    private async Task RunAsync(CancellationToken stoppingToken)
    {
        foreach (var folder in List())
            Rescan(folder.Id);
        await foreach (long id in _queue.Reader.ReadAllAsync(stoppingToken).ConfigureAwait(false))
        {
            lock (_waiting)
            {
                _waiting.Remove(id);
                if (_closed.Contains(id))
                    continue;
                _scanning = id;
            }

            try
            {
                await Guard.TryAsync(logger, $"Scan of folder {id}", () => ScanAsync(id, stoppingToken)).ConfigureAwait(false);
            }
            finally
            {
                lock (_waiting)
                    _scanning = null;
                Guard.Try(logger, "Telling of a scan", () => Changed?.Invoke());
            }
        }
    }

    private async Task ScanAsync(long id, CancellationToken cancellation)
    {
        if (PathToFollow(id) is not { } path || !PlainFolder.Exists(path))
            return;
        // Watched first: what changes during the scan is scanned again.
        Watch(id, path);
        await scan.RunAsync(id, path, () => Changed?.Invoke(), cancellation).ConfigureAwait(false);
    }

    /// <summary>Null for a folder that is paused or was removed.</summary>
    private string? PathToFollow(long id)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<string>("SELECT path FROM folder WHERE id = @id AND NOT is_paused", new { id });
    }

    private bool IsInRun(long id)
    {
        using var connection = database.Open();
        return RunStore.IsAtWork(connection, "SELECT id FROM copy WHERE folder_id = @id", new { id });
    }

    private void Watch(long id, string path)
    {
        lock (_watches)
        {
            if (_watches.ContainsKey(id))
                return;
            try
            {
                _watches[id] = new FolderWatch(path, () => Rescan(id), time, logger);
            }
            catch (IOException failure)
            {
                // The system limits how many folders can be watched; the folder is still scanned at every start.
                logger.LogWarning("Folder {FolderId} cannot be followed: {Reason}", id, failure.Message);
            }
        }
    }

    private void Unwatch(long id)
    {
        lock (_watches)
        {
            if (_watches.Remove(id, out var watch))
                watch.Dispose();
        }
    }
}
