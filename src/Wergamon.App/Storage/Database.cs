using System.Collections.Concurrent;
using System.Data;
using Dapper;
using Microsoft.Data.Sqlite;
using Microsoft.Extensions.Hosting;

namespace Wergamon.App.Storage;

/// <summary>
/// The SQLite database: its place and its connections. All writing goes through <see cref="Change"/>; a connection from
/// <see cref="Open"/> only reads. A database that is locked or cannot grow is waited for, and pages say so meanwhile.
/// </summary>
public sealed class Database
{
    private const long MappedBytes = 1L << 30;

    /// <summary>A scan checkpoints every 32 MB, since each checkpoint waits for the disk.</summary>
    private const int PagesPerCheckpoint = 8000;

    private static readonly TimeSpan FirstPause = TimeSpan.FromMilliseconds(100), LongestPause = TimeSpan.FromSeconds(2);

    private static readonly AsyncLocal<TimeSpan?> Patience = new();

    /// <summary>SQLite takes one writer at a time and lets the others poll; here they queue.</summary>
    private readonly Lock _changing = new();

    private readonly Lock _pool = new();

    private readonly Signals _signals;
    private readonly TimeProvider _time;
    private readonly CancellationToken _stopping;
    private readonly string _connectionString;
    private readonly string _path;
    private readonly FileLook? _file;
    private readonly ConcurrentDictionary<string, (long Version, object Answer)> _answers = new();
    private volatile StorageProblem? _problem;
    private long _version;

    static Database() => DefaultTypeMap.MatchNamesWithUnderscores = true;

    public Database(
        AppOptions options, DatabaseBackups backups, Signals signals, TimeProvider time, IHostApplicationLifetime? lifetime = null)
    {
        (_signals, _time, _stopping) = (signals, time, lifetime?.ApplicationStopping ?? CancellationToken.None);
        PrivateFiles.CreateFolder(options.DataFolder);
        _connectionString = new SqliteConnectionStringBuilder
        {
            DataSource = options.Folders.Database,
            // A missing database must not be recreated, empty, by the next change.
            Mode = SqliteOpenMode.ReadWrite,
            ForeignKeys = true,
            DefaultTimeout = (int)options.DatabaseLockWait.TotalSeconds,
        }.ToString();
        new DatabaseMigration(options, backups).Run();
        _path = options.Folders.Database;
        _file = PlainFile.Look(_path);
    }

    /// <summary>What prevents changes from being written now; null when nothing does.</summary>
    public StorageProblem? Problem => _problem;

    /// <summary>An open connection for reading; the caller disposes of it.</summary>
    public SqliteConnection Open() => Connect(isForReading: true);

    /// <summary>Reads what every page needs: the database is queried once after each change.</summary>
    /// <param name="question">Names it; one of a fixed few.</param>
    public T Read<T>(string question, Func<IDbConnection, T> read) where T : notnull
    {
        long version = Volatile.Read(ref _version);
        if (_answers.TryGetValue(question, out var known) && known.Version == version)
            return (T)known.Answer;
        using var connection = Open();
        var answer = read(connection);
        _answers[question] = (version, answer);
        return answer;
    }

    /// <summary>
    /// Makes several changes as one: all of them or none. While the database is locked or its disk is full, waits and starts
    /// over, so that <paramref name="work"/> may run more than once.
    /// </summary>
    /// <exception cref="StorageProblemException">The caller waits no longer (<see cref="LimitPatience"/>) or the application ends. Nothing
    /// was changed.</exception>
    public void Change(Action<IDbConnection> work)
    {
        long start = _time.GetTimestamp();
        for (var pause = FirstPause; ; pause = Shorter(pause * 2, LongestPause))
        {
            try
            {
                lock (_changing)
                    ChangeAlone(work);
                Report(null);
                return;
            }
            catch (Exception failure) when (ProblemOf(failure) is not null)
            {
                var problem = ProblemOf(failure)!;
                Report(problem);
                if ((Patience.Value is { } patience && _time.GetElapsedTime(start) + pause > patience)
                    || _stopping.WaitHandle.WaitOne(pause))
                    throw new StorageProblemException(problem, failure);
            }
        }
    }

    /// <summary>Makes several changes as one and returns the result of the work.</summary>
    /// <inheritdoc cref="Change(Action{IDbConnection})"/>
    public T Change<T>(Func<IDbConnection, T> work)
    {
        T result = default!;
        Change(connection => { result = work(connection); });
        return result;
    }

    /// <summary>Makes the changes unless other writers keep the database busy for longer than this; false then.</summary>
    public bool TryChange(TimeSpan longestWait, Action<IDbConnection> work)
    {
        if (!_changing.TryEnter(longestWait))
            return false;
        try
        {
            ChangeAlone(work);
            return true;
        }
        catch (Exception failure) when (ProblemOf(failure) is not null)
        {
            return false;
        }
        finally
        {
            _changing.Exit();
        }
    }

    /// <summary>Runs a short action once the change is committed, and not at all when it is not.</summary>
    /// <param name="connection">The one that the work of a change was given.</param>
    public static void AfterCommit(IDbConnection connection, Action action) => ((PreparedConnection)connection).AfterCommit.Add(action);

    /// <summary>Limits how long changes wait in this asynchronous flow; a page cannot wait as background work can.</summary>
    public static void LimitPatience(TimeSpan longest) => Patience.Value = longest;

    private GuardedConnection Connect(bool isForReading)
    {
        var connection = new GuardedConnection(_connectionString, _pool);
        connection.Open();
        // Read through the page cache of the system: lists go over tens of megabytes.
        connection.Execute(
            $"PRAGMA query_only = {(isForReading ? 1 : 0)}; PRAGMA synchronous = NORMAL; PRAGMA mmap_size = {MappedBytes}; PRAGMA "
                + $"wal_autocheckpoint = {PagesPerCheckpoint}; PRAGMA cache_size = -16000");
        return connection;
    }

    private void ChangeAlone(Action<IDbConnection> work)
    {
        if (!IsThere())
            throw new DatabaseGoneException();
        using var connection = Connect(isForReading: false);
        using var transaction = connection.BeginTransaction();
        List<Action> afterCommit;
        using (var prepared = new PreparedConnection(connection, transaction))
        {
            work(prepared);
            afterCommit = prepared.AfterCommit;
        }

        transaction.Commit();
        Interlocked.Increment(ref _version);
        foreach (var action in afterCommit)
            action();
    }

    /// <summary>Checks, and shows on every page, whether the database file is still the one that was opened.</summary>
    public bool IsThere()
    {
        bool isThere = _file is not { } opened
            || (PlainFile.Look(_path) is { } now && (now.Number, now.Device) == (opened.Number, opened.Device));
        if (!isThere)
            Report(StorageProblem.Gone(_path));
        return isThere;
    }

    private StorageProblem? ProblemOf(Exception failure) => failure switch
    {
        DatabaseGoneException => StorageProblem.Gone(_path),
        SqliteException sqlite => IsThere() ? StorageProblem.Of(sqlite) : StorageProblem.Gone(_path),
        _ => null,
    };

    /// <summary>The file of the database was removed or replaced while it was open.</summary>
    private sealed class DatabaseGoneException : Exception;

    private void Report(StorageProblem? problem)
    {
        if (_problem == problem)
            return;
        _problem = problem;
        _signals.Send(new Signal(Signal.Storage));
    }

    private static TimeSpan Shorter(TimeSpan one, TimeSpan other) => one < other ? one : other;
}
