using System.Globalization;
using Dapper;
using Microsoft.Data.Sqlite;

namespace Wergamon.App.Storage;

/// <summary>Backups of the whole database: made before each migration, a few kept.</summary>
internal sealed class DatabaseBackups(AppOptions options, TimeProvider time)
{
    private const int Kept = 5;

    private const string StampFormat = "yyyyMMdd-HHmmss";

    private string Folder => Path.Combine(options.DataFolder, "backups");

    /// <summary>The newest backup; null without one.</summary>
    public string? Latest => All().FirstOrDefault();

    /// <summary>Copies the database as it is now. A partial backup never gets the name of a backup.</summary>
    /// <param name="reason">Part of the file's name.</param>
    public void Make(string reason)
    {
        PrivateFiles.CreateFolder(Folder);
        var path = Path.Combine(Folder, $"{Stamp()}-{reason}.db");
        var temporary = path + ".part";
        File.Delete(temporary);
        using (var connection = new SqliteConnection(new SqliteConnectionStringBuilder { DataSource = options.DatabasePath, Pooling = false }.ToString()))
        {
            connection.Open();
            connection.Execute("VACUUM INTO @temporary", new { temporary });
        }

        PrivateFiles.Protect(temporary);
        File.Move(temporary, path, overwrite: true);
        foreach (var old in All().Skip(Kept))
            File.Delete(old);
    }

    /// <summary>Sets a database aside that cannot be used; returns the message for the person.</summary>
    public string SetAside(string damage)
    {
        var aside = $"{options.DatabasePath}.damaged-{Stamp()}";
        foreach (var ending in new[] { "", "-wal", "-shm" })
        {
            if (File.Exists(options.DatabasePath + ending))
                File.Move(options.DatabasePath + ending, aside + ending);
        }

        return $"The database is damaged ({damage}) and was set aside as {aside}. " + (Latest is { } backup
            ? $"The last backup is {backup}: start with --restore to go back to it, or with --new-library to begin with an empty library."
            : "There is no backup; the next start begins with an empty library. Your music files are untouched.");
    }

    /// <summary>A library that has backups and no database has lost it; starting with an empty one must be the person's decision.</summary>
    /// <exception cref="DatabaseDamagedException">There are backups, and the person has not said what to do.</exception>
    public void RefuseSilentLoss()
    {
        if (options.StartWith == StartWith.NewLibrary || Latest is not { } backup)
            return;
        if (options.StartWith == StartWith.Backup)
        {
            File.Copy(backup, options.DatabasePath);
            return;
        }

        throw new DatabaseDamagedException(
            $"There is no database in {options.DataFolder}, but a backup: {backup}. Start with --restore to go back to it, or with --new-library to begin with an empty library.");
    }

    private IEnumerable<string> All() => Directory.Exists(Folder) ? Directory.GetFiles(Folder, "*.db").OrderDescending(StringComparer.Ordinal) : [];

    private string Stamp() => time.GetUtcNow().ToString(StampFormat, CultureInfo.InvariantCulture);
}
