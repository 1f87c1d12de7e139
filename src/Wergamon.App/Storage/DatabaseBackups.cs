using System.Globalization;
using Dapper;
using Microsoft.Data.Sqlite;

namespace Wergamon.App.Storage;

/// <summary>A backup of the whole database.</summary>
/// <param name="Reason">"daily", "before-0034" and the like.</param>
public sealed record DatabaseBackup(string Path, DateTimeOffset MadeAt, string Reason, long Bytes)
{
    public string Name => System.IO.Path.GetFileName(Path);
}

/// <summary>
/// Backups of the whole database: one each day, one before each large change and each update, one whenever the person wants. Kept are those
/// of the last seven days, one for each of the four weeks before, and always the newest five.
/// </summary>
public sealed class DatabaseBackups(AppOptions options, TimeProvider time)
{
    public const string Daily = "daily", ByHand = "by-hand", BeforeChange = "before-change";

    private const int AlwaysKept = 5, DaysKept = 7, WeeksKept = 4;

    private const string StampFormat = "yyyyMMdd-HHmmss";

    private const string PartEnding = ".part";

    /// <summary>Written once a library has begun: a data folder that has it never starts empty without a message.</summary>
    private const string BegunFile = "library-begun";

    private readonly Lock _making = new();

    private string Folder => Path.Combine(options.DataFolder, "backups");

    private string BegunPath => Path.Combine(options.DataFolder, BegunFile);

    /// <summary>All backups, the newest first.</summary>
    public IReadOnlyList<DatabaseBackup> All() =>
        !Directory.Exists(Folder)
            ? []
            : [
                .. Directory.GetFiles(Folder, "*.db")
                    .Select(Read)
                    .OfType<DatabaseBackup>()
                    .OrderByDescending(backup => backup.MadeAt)
                    .ThenByDescending(backup => backup.Name, StringComparer.Ordinal)
            ];

    /// <summary>The newest backup; null without one.</summary>
    public DatabaseBackup? Latest => All() is [var newest, ..] ? newest : null;

    /// <summary>Copies the database as it is now. A partial backup never gets the name of a backup.</summary>
    /// <param name="reason">Part of the file's name.</param>
    public DatabaseBackup Make(string reason)
    {
        using var now = OpenSnapshot();
        return Copy(now, NameOf(reason));
    }

    /// <summary>The same in the background. Changes after this call are not part of the backup.</summary>
    public Task<DatabaseBackup> MakeInBackground(string reason)
    {
        var now = OpenSnapshot();
        var name = NameOf(reason);
        return Task.Run(() =>
        {
            using (now)
                return Copy(now, name);
        });
    }

    /// <summary>Records that the data folder has a library.</summary>
    internal void NoteBegun()
    {
        if (!File.Exists(BegunPath))
            File.WriteAllText(
                BegunPath,
                "A library began in this folder. While this file is here, Wergamon does not begin an empty one without asking.\n");
    }

    /// <summary>Sets a database aside that cannot be used; returns the message for the person.</summary>
    internal string SetAside(string damage)
    {
        var aside = MoveAside("damaged");
        return $"The database is damaged ({damage}) and was set aside as {aside}. {WayOn()}";
    }

    /// <summary>A lost library must not be replaced by an empty one unless the person says so.</summary>
    /// <exception cref="DatabaseDamagedException">
    /// There was a library, and the person has not decided what to do; or the requested backup does not exist.
    /// </exception>
    internal void BeginWithoutDatabase(string what)
    {
        if (options.StartWith is StartWith.NewLibrary or StartWith.Backup || (!File.Exists(BegunPath) && All().Count == 0))
            return;
        throw new DatabaseDamagedException($"{what} {WayOn()}");
    }

    /// <summary>Restores a backup, completely or not at all. The current database is set aside, not overwritten.</summary>
    /// <exception cref="DatabaseDamagedException">There is no such backup, or it is damaged itself.</exception>
    internal void Restore(string? name)
    {
        var all = All();
        if ((
            name is null
                ? Latest
                : all.FirstOrDefault(
                    backup => backup.Name == name || Path.GetFileNameWithoutExtension(backup.Name) == name)) is not { } backup)
            throw new DatabaseDamagedException(
                all.Count == 0
                    ? "There is no backup to restore. Start with --new-library to begin with an empty library."
                    : $"There is no backup {name}. {List()}");
        var temporary = options.Folders.Database + ".restoring";
        File.Copy(backup.Path, temporary, overwrite: true);
        if (DatabaseCheck.DamageOf(temporary) is { } damage)
        {
            File.Delete(temporary);
            throw new DatabaseDamagedException($"The backup {backup.Name} is damaged too ({damage}). Choose another one. {List()}");
        }

        using (var written = File.OpenHandle(temporary, FileMode.Open, FileAccess.ReadWrite))
            RandomAccess.FlushToDisk(written);
        SqliteConnection.ClearAllPools();
        if (Path.Exists(options.Folders.Database))
            MoveAside("before-restore");
        PrivateFiles.Protect(temporary);
        File.Move(temporary, options.Folders.Database);
        Restored = backup;
    }

    /// <summary>The backup that this start has restored; null for a normal start.</summary>
    public DatabaseBackup? Restored { get; private set; }

    /// <summary>A connection that sees the database as it is now, whatever others write.</summary>
    private SqliteConnection OpenSnapshot()
    {
        var connection = new SqliteConnection(ConnectionTo(options.Folders.Database, SqliteOpenMode.ReadWrite));
        try
        {
            connection.Open();
            connection.Execute("BEGIN DEFERRED");
            connection.ExecuteScalar<long>("SELECT COUNT(*) FROM sqlite_schema");
            return connection;
        }
        catch
        {
            connection.Dispose();
            throw;
        }
    }

    private DatabaseBackup Copy(SqliteConnection snapshot, string name)
    {
        lock (_making)
        {
            PrivateFiles.CreateFolder(Folder);
            var path = Path.Combine(Folder, name);
            var temporary = path + PartEnding;
            // Those of a server that was killed.
            foreach (var left in Directory.GetFiles(Folder, "*" + PartEnding))
                File.Delete(left);
            using (var copy = new SqliteConnection(ConnectionTo(temporary, SqliteOpenMode.ReadWriteCreate)))
            {
                copy.Open();
                snapshot.BackupDatabase(copy);
                // One file, without others beside it.
                copy.Execute("PRAGMA journal_mode = DELETE");
            }

            PrivateFiles.Protect(temporary);
            File.Move(temporary, path, overwrite: true);
            Thin();
            return Read(path)!;
        }
    }

    private string MoveAside(string reason)
    {
        var aside = $"{options.Folders.Database}.{reason}-{Stamp()}";
        foreach (var ending in new[] { "", "-wal", "-shm" })
        {
            if (File.Exists(options.Folders.Database + ending))
                File.Move(options.Folders.Database + ending, aside + ending);
            else if (Directory.Exists(options.Folders.Database + ending))
                Directory.Move(options.Folders.Database + ending, aside + ending);
        }

        return aside;
    }

    private string WayOn() => Latest is { } backup
        ? $"Start with --restore to restore {backup.Name}, or with --new-library to begin with an empty library. {List()}"
        : "There is no backup. Start with --new-library to begin with an empty library; your music files are untouched.";

    private string List() =>
        "Backups: " + string.Join(", ", All().Select(backup => backup.Name)) + ". For another one than the newest, --restore-from NAME.";

    /// <summary>Removes old backups.</summary>
    private void Thin()
    {
        var all = All();
        var now = time.GetUtcNow();
        var weeks = new HashSet<int>();
        // The oldest of a week is kept, so that it can become that of an earlier week.
        foreach (var backup in all.Skip(AlwaysKept).Reverse())
        {
            int days = (int)(now - backup.MadeAt).TotalDays;
            bool isKept = days < DaysKept || ((days - DaysKept) / 7 is var week && week < WeeksKept && weeks.Add(week));
            if (!isKept)
                File.Delete(backup.Path);
        }
    }

    /// <summary>Null for a file whose name is not that of a backup.</summary>
    private static DatabaseBackup? Read(string path)
    {
        var name = Path.GetFileNameWithoutExtension(path);
        return name.Length > StampFormat.Length
            && DateTimeOffset.TryParseExact(
                name[..StampFormat.Length], StampFormat, CultureInfo.InvariantCulture, DateTimeStyles.AssumeUniversal, out var at)
            ? new DatabaseBackup(path, at, name[StampFormat.Length..].TrimStart('-'), new FileInfo(path).Length)
            : null;
    }

    private static string ConnectionTo(string path, SqliteOpenMode mode) =>
        new SqliteConnectionStringBuilder { DataSource = path, Mode = mode, Pooling = false }.ToString();

    private string NameOf(string reason) => $"{Stamp()}-{reason}.db";

    private string Stamp() => time.GetUtcNow().ToString(StampFormat, CultureInfo.InvariantCulture);
}
