using System.Globalization;
using Dapper;
using DbUp;
using DbUp.Engine;
using DbUp.Engine.Output;
using Microsoft.Data.Sqlite;

namespace Wergamon.App.Storage;

/// <summary>The database file cannot be used. The message says, for the person, what was done and what to do.</summary>
public sealed class DatabaseDamagedException : Exception
{
    public DatabaseDamagedException(string message) : base(message) { }

    public DatabaseDamagedException(string message, Exception inner) : base(message, inner) { }

    public DatabaseDamagedException() { }
}

/// <summary>
/// Brings the database up to date at start: backs it up first, runs the scripts that it has not seen with foreign keys off, so
/// that tables can be rebuilt, and checks the keys afterwards.
/// </summary>
internal sealed class DatabaseMigration(AppOptions options, TimeProvider time)
{
    private const string ScriptPrefix = "Wergamon.App.Data.Migrations.";

    private readonly string _connectionString = new SqliteConnectionStringBuilder { DataSource = options.DatabasePath, ForeignKeys = false, Pooling = false }.ToString();

    /// <param name="last">The number of the last script to run; null for all.</param>
    public void Run(string? last = null)
    {
        bool exists = File.Exists(options.DatabasePath);
        var backups = new DatabaseBackups(options, time);
        if (exists)
            CheckUsable(backups);
        else
            backups.RefuseSilentLoss();
        try
        {
            using (var connection = Open())
                connection.Execute("PRAGMA journal_mode = WAL");
            PrivateFiles.Protect(options.DatabasePath);
            var engine = DeployChanges.To
                .SqliteDatabase(_connectionString)
                .WithScriptsEmbeddedInAssembly(typeof(DatabaseMigration).Assembly, name => IsWanted(name, last))
                .WithTransactionPerScript()
                .LogTo(new NoOpUpgradeLog())
                .Build();
            var waiting = engine.GetScriptsToExecute();
            if (waiting.Count == 0)
                return;
            if (exists)
                backups.Make($"before-{NumberOf(waiting[0])}");
            Upgrade(engine);
        }
        finally
        {
            SqliteConnection.ClearAllPools();
        }
    }

    private static bool IsWanted(string name, string? last) =>
        name.StartsWith(ScriptPrefix, StringComparison.Ordinal) && (last is null || string.CompareOrdinal(name[ScriptPrefix.Length..(ScriptPrefix.Length + last.Length)], last) <= 0);

    private static string NumberOf(SqlScript script) => script.Name[ScriptPrefix.Length..].Split('_')[0];

    private void Upgrade(UpgradeEngine engine)
    {
        var result = engine.PerformUpgrade();
        if (!result.Successful)
            throw new InvalidOperationException($"The database could not be updated at {result.ErrorScript?.Name}.", result.Error);
        using var connection = Open();
        var broken = connection.Query("PRAGMA foreign_key_check").Take(1).ToList();
        if (broken.Count > 0)
            throw new InvalidOperationException($"After the update a row points nowhere: {string.Join(", ", (IDictionary<string, object>)broken[0])}.");
    }

    /// <summary>Sets a damaged database aside. A server that ended cleanly leaves no write-ahead log; the whole file is checked only if there is one.</summary>
    private void CheckUsable(DatabaseBackups backups)
    {
        bool endedCleanly = !File.Exists(options.DatabasePath + "-wal");
        string? damage;
        try
        {
            using var connection = Open();
            damage = connection.ExecuteScalar<string>(endedCleanly ? "SELECT CASE WHEN COUNT(*) >= 0 THEN 'ok' END FROM sqlite_schema" : "PRAGMA quick_check(1)") is var found and not "ok" ? found : null;
        }
        catch (SqliteException failure) when (failure.SqliteErrorCode is 11 or 26)
        {
            damage = failure.Message;
        }

        if (damage is null)
            return;
        SqliteConnection.ClearAllPools();
        throw new DatabaseDamagedException(backups.SetAside(damage));
    }

    private SqliteConnection Open()
    {
        var connection = new SqliteConnection(_connectionString);
        connection.Open();
        return connection;
    }
}
