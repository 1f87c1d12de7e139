using System.Net.Sockets;
using Dapper;
using Microsoft.Data.Sqlite;
using Wergamon.App.Files;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Kills;

/// <summary>
/// The real server, killed at random moments and restarted on the same data; with <c>WERGAMON_KILLED=workers</c> its workers are killed
/// instead, and what has failed for it is tried again.
/// </summary>
internal sealed class KilledServer : IDisposable
{
    public static readonly bool IsOfWorkers = Environment.GetEnvironmentVariable("WERGAMON_KILLED") == "workers";

    private readonly Func<WebServer> _start;
    private readonly string _data;
    private readonly Random _moments;

    /// <param name="output">Receives the seed of the moments.</param>
    public KilledServer(ITestOutputHelper output, string data, Func<WebServer> start)
    {
        int seed = Random.Shared.Next();
        output.WriteLine($"seed {seed}");
        (_start, _data, _moments) = (start, data, new Random(seed));
        Server = start();
        Session = new HttpSession(Server.Address);
    }

    public WebServer Server { get; private set; }

    public HttpSession Session { get; private set; }

    /// <summary>Lets the server work for a while and kills it; another continues.</summary>
    /// <param name="least">The shortest while, in milliseconds.</param>
    /// <param name="most">The longest.</param>
    public async Task KillAsync(int least, int most)
    {
        if (IsOfWorkers)
        {
            await KillWorkerAsync(least, most);
            return;
        }

        // Any moment will do: the outcome has to be the same.
        await Task.Delay(_moments.Next(least, most));
        Server.KillHard();
        Dispose();
        Server = _start();
        Session = new HttpSession(Server.Address);
    }

    /// <summary>Sends a form; nothing happens when the server is killed meanwhile.</summary>
    public async Task TryPostAsync(string page, string action, params (string Name, string Value)[] fields)
    {
        try
        {
            await Session.PostAsync(page, action, fields);
        }
        catch (Exception failure) when (IsCutOff(failure))
        {
            // Another server goes on.
        }
    }

    /// <summary>True for what a request ends with when its server is killed, from the connection on.</summary>
    public static bool IsCutOff(Exception failure) =>
        failure is HttpRequestException or IOException or SocketException or TaskCanceledException or ObjectDisposedException;

    /// <summary>Kills one of the workers after a while, if there is one.</summary>
    public async Task KillWorkerAsync(int least, int most)
    {
        await Task.Delay(_moments.Next(least, most));
        if (Server.Workers() is { Count: > 0 } workers)
            workers[_moments.Next(workers.Count)].Kill();
    }

    /// <summary>Waits until every run has ended.</summary>
    /// <param name="retries">True to try again what has failed because its worker was killed.</param>
    public async Task UntilDoneAsync(bool retries = false)
    {
        const string Failed = "SELECT MIN(run_id) FROM run_item WHERE state = 'failed'";
        await UntilAsync("SELECT NOT EXISTS (SELECT 1 FROM run WHERE state <> 'done')");
        while ((retries || IsOfWorkers) && Ask<long?>(Failed) is { } run)
        {
            await Session.PostAsync($"/runs/{run}", $"/runs/{run}?handler=Retry");
            await UntilAsync("SELECT NOT EXISTS (SELECT 1 FROM run WHERE state <> 'done')");
        }
    }

    /// <param name="sql">Asks whether it is so.</param>
    public async Task UntilAsync(string sql)
    {
        using var limit = new CancellationTokenSource(TimeSpan.FromMinutes(4));
        while (!Ask<bool>(sql))
            await Task.Delay(50, limit.Token);
    }

    /// <summary>Queries the database.</summary>
    public T? Ask<T>(string sql)
    {
        using var connection = new SqliteConnection($"Data Source={Path.Combine(_data, "wergamon.db")};Pooling=False");
        connection.Open();
        return connection.ExecuteScalar<T>(sql);
    }

    /// <summary>The database is intact, no move is half done, and no temporary file is left.</summary>
    public void AssertTidy(params string[] folders)
    {
        Assert.Equal("ok", Ask<string>("PRAGMA integrity_check"));
        Assert.Null(Ask<string>("SELECT \"table\" FROM pragma_foreign_key_check LIMIT 1"));
        Assert.Equal(0, Ask<int>("SELECT COUNT(*) FROM file_change"));
        Assert.DoesNotContain(folders.SelectMany(FilesIn), path => path.Contains(Placement.TemporaryPrefix, StringComparison.Ordinal));
    }

    public static IReadOnlyList<string> FilesIn(string folder) => Directory.Exists(folder)
        ? [
            .. Directory.EnumerateFiles(folder, "*", new EnumerationOptions { RecurseSubdirectories = true, AttributesToSkip = 0 })
                .Order(StringComparer.Ordinal)
        ]
        : [];

    public void Dispose()
    {
        Session.Dispose();
        Server.Dispose();
    }
}
