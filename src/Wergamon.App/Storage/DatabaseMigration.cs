using Dapper;
using DbUp;
using DbUp.Engine;
using DbUp.Engine.Output;
using Microsoft.Data.Sqlite;

namespace Wergamon.App.Storage;

/// <summary>
/// Brings the database up to date at start: backs it up first, runs the scripts that it has not seen with foreign keys off, so
/// that tables can be rebuilt, and checks the keys afterwards.
/// </summary>
internal sealed class DatabaseMigration(AppOptions options, DatabaseBackups backups)
{
    private const string ScriptPrefix = "Wergamon.App.Data.Migrations.";

    private readonly string _connectionString = new SqliteConnectionStringBuilder
    {
        DataSource = options.Folders.Database,
        ForeignKeys = false,
        Pooling = false
    }.ToString();

    /// <param name="last">The number of the last script to run; null for all.</param>
    public void Run(string? last = null)
    {
        bool exists = Prepare();
        try
        {
            using (var connection = Open())
                connection.Execute("PRAGMA journal_mode = WAL");
            PrivateFiles.Protect(options.Folders.Database);
            var engine = DeployChanges.To
                .SqliteDatabase(_connectionString)
                .WithScriptsEmbeddedInAssembly(typeof(DatabaseMigration).Assembly, name => IsWanted(name, last))
                .WithTransactionPerScript()
                .LogTo(new NoOpUpgradeLog())
                .Build();
            RefuseNewer(engine);
            var waiting = engine.GetScriptsToExecute();
            if (waiting.Count > 0 && exists)
                backups.Make($"before-{NumberOf(waiting[0])}");
            if (waiting.Count > 0)
                Upgrade(engine);
            SettleFolder();
            backups.NoteBegun();
        }
        catch (SqliteException failure) when (StorageProblem.Of(failure) is null)
        {
            throw new DatabaseDamagedException(
                $"The database cannot be used: {failure.Message}. Nothing was changed. Start with --restore to restore the last backup.",
                failure);
        }
        finally
        {
            SqliteConnection.ClearAllPools();
        }
    }

    private void SettleFolder()
    {
        if (options.DataFolderLink is not { } link)
            return;
        using var connection = Open();
        DataFolderName.Settle(connection, link, options.DataFolder);
    }

    private static bool IsWanted(string name, string? last) =>
        name.StartsWith(ScriptPrefix, StringComparison.Ordinal)
            && (last is null || string.CompareOrdinal(name[ScriptPrefix.Length..(ScriptPrefix.Length + last.Length)], last) <= 0);

    private static string NumberOf(SqlScript script) => script.Name[ScriptPrefix.Length..].Split('_')[0];

    private void Upgrade(UpgradeEngine engine)
    {
        var result = engine.PerformUpgrade();
        if (!result.Successful)
            throw new DatabaseDamagedException(
                $"The database could not be updated at {result.ErrorScript?.Name}: {result.Error?.Message} The backup from before the "
                    + "update is in the folder backups; start with --restore to restore it.",
                result.Error!);
        using var connection = Open();
        var broken = connection.Query("PRAGMA foreign_key_check").Take(1).ToList();
        if (broken.Count > 0)
            throw new DatabaseDamagedException(
                $"After the update a row points nowhere: {string.Join(", ", (IDictionary<string, object>)broken[0])}. Start with "
                    + "--restore to restore the backup from before it.");
    }

    /// <summary>Makes sure that there is an intact database, or that the person wants to start without one; true when there is.</summary>
    private bool Prepare()
    {
        if (options.StartWith == StartWith.Backup)
            backups.Restore(options.RestoreFrom);
        if (!Path.Exists(options.Folders.Database))
        {
            backups.BeginWithoutDatabase($"There is no database in {options.DataFolder}, and there was a library.");
            return false;
        }

        if (DatabaseCheck.DamageOf(options.Folders.Database) is not { } damage)
            return true;
        SqliteConnection.ClearAllPools();
        var message = backups.SetAside(damage);
        if (options.StartWith != StartWith.NewLibrary)
            throw new DatabaseDamagedException(message);
        return false;
    }

    /// <summary>A library that a newer version has changed is not opened.</summary>
    private static void RefuseNewer(UpgradeEngine engine)
    {
        var known = engine.GetDiscoveredScripts().Select(script => script.Name).ToHashSet(StringComparer.Ordinal);
        if (engine.GetExecutedScripts().FirstOrDefault(name => IsWanted(name, null) && !known.Contains(name)) is { } newer)
            throw new DatabaseDamagedException(
                $"This library was made by a newer version of Wergamon (it knows {newer[ScriptPrefix.Length..]}). Start that version, or "
                    + "use another --data folder.");
    }

    private SqliteConnection Open()
    {
        var connection = new SqliteConnection(_connectionString);
        connection.Open();
        return connection;
    }
}
