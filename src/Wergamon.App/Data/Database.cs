using System.Data;
using Dapper;
using DbUp;
using DbUp.Engine.Output;
using Microsoft.Data.Sqlite;

namespace Wergamon.App.Data;

/// <summary>The SQLite database: its place, its shape and its connections.</summary>
public sealed class Database
{
    private const long MappedBytes = 1L << 30;

    /// <summary>What a scan writes goes to its place every 32 MB, since the disk has to be waited for each time.</summary>
    private const int PagesPerCheckpoint = 8000;

    /// <summary>SQLite takes one writer at a time, and lets others only look again after a while; here they go on at once.</summary>
    private readonly Lock _changing = new();

    private readonly Lock _pool = new();

    private readonly string _connectionString;

    static Database() => DefaultTypeMap.MatchNamesWithUnderscores = true;

    public Database(AppOptions options)
    {
        Directory.CreateDirectory(options.DataFolder);
        _connectionString = new SqliteConnectionStringBuilder
        {
            DataSource = options.DatabasePath,
            ForeignKeys = true,
            DefaultTimeout = 30,
        }.ToString();
        Migrate();
    }

    /// <summary>An open connection; the caller disposes of it.</summary>
    public SqliteConnection Open()
    {
        var connection = new GuardedConnection(_connectionString, _pool);
        connection.Open();
        // Read through the memory of the system: lists go over tens of megabytes.
        connection.Execute($"PRAGMA synchronous = NORMAL; PRAGMA mmap_size = {MappedBytes}; PRAGMA wal_autocheckpoint = {PagesPerCheckpoint}; PRAGMA cache_size = -16000");
        return connection;
    }

    /// <summary>Does several changes as one: all of them or none.</summary>
    public void Change(Action<IDbConnection> work)
    {
        lock (_changing)
            ChangeAlone(work);
    }

    /// <summary>Does the same unless others keep the database busy for longer than a wait; false then.</summary>
    public bool TryChange(TimeSpan longestWait, Action<IDbConnection> work)
    {
        if (!_changing.TryEnter(longestWait))
            return false;
        try
        {
            ChangeAlone(work);
            return true;
        }
        finally
        {
            _changing.Exit();
        }
    }

    private void ChangeAlone(Action<IDbConnection> work)
    {
        using var connection = Open();
        using var transaction = connection.BeginTransaction();
        using (var prepared = new PreparedConnection(connection, transaction))
            work(prepared);
        transaction.Commit();
    }

    private void Migrate()
    {
        using (var connection = Open())
            connection.Execute("PRAGMA journal_mode = WAL");
        var result = DeployChanges.To
            .SqliteDatabase(_connectionString)
            .WithScriptsEmbeddedInAssembly(typeof(Database).Assembly)
            .WithTransactionPerScript()
            .LogTo(new NoOpUpgradeLog())
            .Build()
            .PerformUpgrade();
        if (!result.Successful)
            throw new InvalidOperationException($"The database could not be brought up to date at {result.ErrorScript?.Name}.", result.Error);
    }
}
