using System.Collections.Concurrent;
using System.Threading.Channels;
using Dapper;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Data;
using Wergamon.App.Runs;
using Wergamon.Core.Audio;
using Wergamon.Core.Jobs;
using Wergamon.Core.Metering;

namespace Wergamon.App.Library;

/// <summary>
/// Goes through the sound of every copy in the background, newest first: for its sum, by which equal sound is found, for its
/// real bits and rate, and for its waveform. The workers give way to everything else, and begin nothing while copies are made.
/// </summary>
public sealed class Surveys : BackgroundService
{
    private const int BatchSize = 32;

    private const int MostNamesakes = 500;

    /// <summary>A waveform that somebody waits for comes first; whoever waits longer goes without.</summary>
    private static readonly TimeSpan LongestWait = TimeSpan.FromSeconds(60);

    private readonly Database _database;
    private readonly Joins _joins;
    private readonly TrackLines _lines;
    private readonly MusicFolders _folders;
    private readonly ILogger<Surveys> _logger;
    private readonly WorkerPool _workers;
    private readonly CopyWork _copyWork;
    private readonly int _atOnce;
    private readonly Channel<bool> _wakes = Channel.CreateBounded<bool>(new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropWrite });
    private readonly ConcurrentDictionary<long, Task> _underWay = new();
    private readonly CancellationTokenSource _stopping = new();
    private volatile bool _isUnderWay;

    public Surveys(
        Database database, Joins joins, TrackLines lines, MusicFolders folders, CopyWork copyWork, AppOptions options, ILogger<Surveys> logger, ILogger<WorkerPool> workerLogger)
    {
        (_database, _joins, _lines, _folders, _copyWork, _logger) = (database, joins, lines, folders, copyWork, logger);
        _atOnce = Math.Max(1, options.WorkerCount / 2);
        // One place more than the background takes, for a waveform that somebody waits for.
        _workers = new WorkerPool(options with { WorkerCount = _atOnce + 1, WorkersGiveWay = true }, workerLogger);
        folders.Changed += Wake;
    }

    /// <summary>Raised when something new is known of copies.</summary>
    public event Action? Changed;

    /// <summary>True while copies are being gone through one after another and much becomes known all the time.</summary>
    public bool IsUnderWay => _isUnderWay;

    /// <summary>Copies that nobody has gone through yet.</summary>
    public int CountLeft()
    {
        using var connection = _database.Open();
        return connection.ExecuteScalar<int>($"SELECT COUNT(*) FROM copy c WHERE {IsLeft}");
    }

    /// <summary>There may be new copies.</summary>
    public void Wake() => _wakes.Writer.TryWrite(true);

    /// <summary>The waveform of a copy, made at once where there is none yet; null where its sound cannot be read.</summary>
    public async Task<byte[]?> WaveformAsync(CopyRow copy, CancellationToken cancellation)
    {
        if (Find(copy.Id) is { } known)
            return known;
        if (copy.IsMissing)
            return null;
        try
        {
            await SurveyOnceAsync(copy.Id, copy.Path).WaitAsync(LongestWait, cancellation).ConfigureAwait(false);
        }
        catch (TimeoutException)
        {
            return null;
        }

        return Find(copy.Id);
    }

    public override void Dispose()
    {
        _folders.Changed -= Wake;
        _stopping.Cancel();
        _workers.Dispose();
        base.Dispose();
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await using var stopping = stoppingToken.Register(_stopping.Cancel).ConfigureAwait(false);
        Wake();
        await foreach (bool _ in _wakes.Reader.ReadAllAsync(stoppingToken).ConfigureAwait(false))
        {
            _joins.Refresh();
            await SurveyAllAsync(NamesakesLeft(), stoppingToken).ConfigureAwait(false);
            // Downwards once: what cannot be gone through now is not tried again before something has changed.
            long below = long.MaxValue;
            while (NextBatch(below) is { Count: > 0 } batch)
            {
                below = batch[^1].Id;
                await SurveyAllAsync(batch, stoppingToken).ConfigureAwait(false);
            }

            if (!_isUnderWay)
                continue;
            _isUnderWay = false;
            Changed?.Invoke();
        }
    }

    private async Task SurveyAllAsync(List<(long Id, string Path)> batch, CancellationToken cancellation)
    {
        if (batch.Count == 0)
            return;
        _isUnderWay = true;
        await Parallel.ForEachAsync(
            batch,
            new ParallelOptions { MaxDegreeOfParallelism = _atOnce, CancellationToken = cancellation },
            async (copy, token) =>
            {
                await _copyWork.WhenAtRestAsync(token).ConfigureAwait(false);
                await SurveyOnceAsync(copy.Id, copy.Path).WaitAsync(token).ConfigureAwait(false);
            }).ConfigureAwait(false);
        _joins.Refresh();
        _lines.Refresh();
        Changed?.Invoke();
    }

    /// <summary>Copies that have the name of another: as long as their sound is not known, one track may stand there twice.</summary>
    private List<(long Id, string Path)> NamesakesLeft()
    {
        using var connection = _database.Open();
        return connection.Query<(long Id, string Path)>(
            $"""
            SELECT c.id, c.path FROM copy c JOIN likeness l ON l.copy_id = c.id AND l.name = 'names'
            WHERE {IsLeft} AND EXISTS (SELECT 1 FROM likeness o WHERE o.name = l.name AND o.key = l.key AND o.copy_id <> l.copy_id) LIMIT {MostNamesakes}
            """).AsList();
    }

    private const string IsLeft = "NOT c.is_missing AND NOT EXISTS (SELECT 1 FROM survey WHERE copy_id = c.id)";

    private List<(long Id, string Path)> NextBatch(long below)
    {
        using var connection = _database.Open();
        return connection.Query<(long Id, string Path)>($"SELECT c.id, c.path FROM copy c WHERE {IsLeft} AND c.id < @below ORDER BY c.id DESC LIMIT {BatchSize}", new { below }).AsList();
    }

    private byte[]? Find(long copyId)
    {
        using var connection = _database.Open();
        return connection.QueryFirstOrDefault<byte[]>("SELECT waveform FROM survey WHERE copy_id = @copyId AND failure IS NULL", new { copyId });
    }

    /// <summary>Whoever asks for a copy that is being gone through already waits for that.</summary>
    private Task SurveyOnceAsync(long copyId, string path)
    {
        var survey = new Lazy<Task>(() => SurveyAsync(copyId, path));
        var task = _underWay.GetOrAdd(copyId, _ => survey.Value);
        if (survey.IsValueCreated)
            task.ContinueWith(_ => _underWay.TryRemove(copyId, out Task? _), TaskScheduler.Default);
        return task;
    }

    private async Task SurveyAsync(long copyId, string path)
    {
        await Task.Yield();
        var stamp = StampOf(path);
        WorkerReply reply;
        try
        {
            reply = await AskWorkerAsync(path).ConfigureAwait(false);
        }
        catch (OperationCanceledException)
        {
            // The server ends; whatever was not gone through is gone through at the next start.
            return;
        }

        var (survey, failure) = (reply.Survey, reply.Failure);
        if (survey is null && failure is null)
            return;
        // What changed meanwhile is gone through when the folder has been looked at again; what is gone is missing.
        _database.Change(connection =>
        {
            var (recordedPath, bytes, modifiedAt, number) = connection.QuerySingleOrDefault<(string? Path, long Bytes, long ModifiedAt, long Number)>(
                "SELECT path, file_bytes, modified_at, file_number FROM copy WHERE id = @copyId", new { copyId });
            if (recordedPath != path)
                return;
            if (stamp is null)
                connection.Execute("UPDATE copy SET is_missing = 1 WHERE id = @copyId", new { copyId });
            else if (stamp is { } read && read.Fits(new FileStamp(bytes, modifiedAt, number)) && stamp == StampOf(path))
                Save(connection, copyId, survey, failure);
            else
                _logger.LogInformation("Copy {CopyId} changed while it was gone through", copyId);
        });
    }

    /// <summary>A worker may be lost for reasons that lie elsewhere; only a file that costs two is to blame.</summary>
    private async Task<WorkerReply> AskWorkerAsync(string path)
    {
        for (bool isSecond = false; ; isSecond = true)
        {
            try
            {
                return await _workers.RunAsync(new WorkerRequest(Survey: new SurveyJob(path)), _ => { }, _stopping.Token).ConfigureAwait(false);
            }
            catch (WorkerLostException lost)
            {
                _stopping.Token.ThrowIfCancellationRequested();
                if (isSecond)
                    return new WorkerReply(Failure: lost.Message);
            }
        }
    }

    private static void Save(System.Data.IDbConnection connection, long copyId, SoundSurvey? survey, string? failure)
    {
        connection.Execute(
            "INSERT OR REPLACE INTO survey (copy_id, samples, peak, waveform, failure) VALUES (@copyId, @samples, @peak, @waveform, @failure)",
            new { copyId, samples = SumOf(survey), peak = survey?.Peak ?? 0, waveform = survey?.Waveform ?? [], failure });
        if (survey is not null)
            connection.Execute("UPDATE copy SET real_bits = @RealBits, real_rate = @RealRate WHERE id = @copyId", new { copyId, survey.RealBits, survey.RealRate });
        foreach (var damage in survey?.Damage ?? [$"Its sound could not be read: {failure}"])
        {
            connection.Execute(
                "UPDATE copy SET damage = CASE WHEN damage IS NULL THEN @damage ELSE damage || ' ' || @damage END WHERE id = @copyId AND instr(COALESCE(damage, ''), @damage) = 0",
                new { copyId, damage });
        }
    }

    /// <summary>Equal for equal sound of one shape, whatever the container.</summary>
    private static string? SumOf(SoundSurvey? survey) =>
        survey is null || survey.FrameCount == 0 ? null : $"{survey.Md5} {survey.Format.Rate.Hertz} {survey.Format.Channels} {survey.Format.BitsInWords}";

    private static FileStamp? StampOf(string path) => new FileInfo(path) is { Exists: true } file ? FileStamp.Of(file) : null;
}
