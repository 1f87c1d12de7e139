using System.Collections.Concurrent;
using System.Threading.Channels;
using Dapper;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Files;
using Wergamon.App.Library.Matching;
using Wergamon.App.Library.Scan;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Library.Listening;

/// <summary>
/// Analyses every copy in the background, newest first: its digest, by which equal audio is found, its real bits and rate,
/// and its waveform. Copies that were made here already have their analysis.
/// </summary>
public sealed class BackgroundAnalysis : BackgroundService
{
    private const int BatchSize = 32;

    private const int MaxNamesakes = 500;

    /// <summary>Waveforms that a page waits for come first; after this time the page does without.</summary>
    private static readonly TimeSpan LongestWait = TimeSpan.FromSeconds(60);

    private readonly Database _database;
    private readonly TrackMatcher _matcher;
    private readonly TrackLines _lines;
    private readonly MusicFolders _folders;
    private readonly ILogger<BackgroundAnalysis> _logger;
    private readonly WorkerPool _workers;
    private readonly TimeProvider _time;
    private readonly Channel<bool> _wakes = Channel.CreateBounded<bool>(
        new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropWrite });
    private readonly ConcurrentDictionary<(long CopyId, WorkerPriority Priority), Task> _underWay = new();
    private readonly CancellationTokenSource _stopping = new();
    private volatile bool _isUnderWay, _isAnyLost;

    public BackgroundAnalysis(
        Database database, TrackMatcher matcher, TrackLines lines, MusicFolders folders, WorkerPool workers, TimeProvider time,
        ILogger<BackgroundAnalysis> logger)
    {
        (_database, _matcher, _lines, _folders, _workers, _time, _logger) = (database, matcher, lines, folders, workers, time, logger);
        folders.Changed += Wake;
    }

    /// <summary>Raised when new analyses are available.</summary>
    public event Action? Changed;

    /// <summary>True while many copies are being analysed and results arrive all the time.</summary>
    public bool IsUnderWay => _isUnderWay;

    /// <summary>Copies that are not analysed yet.</summary>
    public int CountLeft()
    {
        using var connection = _database.Open();
        return connection.ExecuteScalar<int>($"SELECT COUNT(*) FROM copy c WHERE {IsLeft}");
    }

    /// <summary>There may be new copies.</summary>
    public void Wake() => _wakes.Writer.TryWrite(true);

    /// <summary>The waveform of a copy, computed now if needed; null when its audio cannot be read.</summary>
    public async Task<byte[]?> WaveformAsync(CopyRow copy, CancellationToken cancellation)
    {
        if (Find(copy.Id) is { } known)
            return known;
        if (copy.IsMissing)
            return null;
        try
        {
            await AnalyseOneAsync(copy.Id, copy.Path, WorkerPriority.Interactive)
                .WaitAsync(LongestWait, cancellation)
                .ConfigureAwait(false);
        }
        catch (Exception failure) when (failure is TimeoutException or WorkerLostException)
        {
            return null;
        }

        return Find(copy.Id);
    }

    public override void Dispose()
    {
        _folders.Changed -= Wake;
        _stopping.Cancel();
        base.Dispose();
    }

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        Guard.KeepRunningAsync(_logger, _time, nameof(BackgroundAnalysis), RunAsync, stoppingToken);

    private async Task RunAsync(CancellationToken stoppingToken)
    {
        await using var stopping = stoppingToken.Register(_stopping.Cancel).ConfigureAwait(false);
        Wake();
        await foreach (bool _ in _wakes.Reader.ReadAllAsync(stoppingToken).ConfigureAwait(false))
        {
            _matcher.Refresh();
            await AnalyseAllAsync(NamesakesLeft(), stoppingToken).ConfigureAwait(false);
            do
            {
                _isAnyLost = false;
                // Each copy once: one that cannot be analysed now is tried again only after something has changed.
                long below = long.MaxValue;
                while (NextBatch(below) is { Count: > 0 } batch)
                {
                    below = batch[^1].Id;
                    await AnalyseAllAsync(batch, stoppingToken).ConfigureAwait(false);
                }
            }
            while (_isAnyLost);

            if (!_isUnderWay)
                continue;
            _isUnderWay = false;
            Changed?.Invoke();
        }
    }

    private async Task AnalyseAllAsync(List<(long Id, string Path)> batch, CancellationToken cancellation)
    {
        if (batch.Count == 0)
            return;
        _isUnderWay = true;
        await Parallel.ForEachAsync(
            batch,
            new ParallelOptions { MaxDegreeOfParallelism = _workers.BackgroundPlaces, CancellationToken = cancellation },
            async (copy, token) => await AnalyseOrSetAsideAsync(copy.Id, copy.Path, token).ConfigureAwait(false)).ConfigureAwait(false);
        _matcher.Refresh();
        _lines.Refresh();
        Changed?.Invoke();
    }

    private async Task AnalyseOrSetAsideAsync(long copyId, string path, CancellationToken cancellation)
    {
        try
        {
            await AnalyseOneAsync(copyId, path, WorkerPriority.Background).WaitAsync(cancellation).ConfigureAwait(false);
        }
        catch (WorkerLostException lost) when (lost is not WorkerNotStartedException)
        {
            _isAnyLost = true;
        }
        catch (Exception failure) when (failure is not (OperationCanceledException or WorkerNotStartedException or StorageProblemException))
        {
            _logger.LogError(failure, "Copy {CopyId} could not be analysed", copyId);
            _database.Change(connection => IsolatedBatch.ListCopy(connection, copyId, failure));
        }
    }

    /// <summary>Copies with the same name as another: until they are analysed, one track may be listed twice.</summary>
    private List<(long Id, string Path)> NamesakesLeft()
    {
        using var connection = _database.Open();
        return connection.Query<(long Id, string Path)>(
            $"""
            SELECT c.id, c.path FROM copy c JOIN match_key l ON l.copy_id = c.id AND l.name = 'names'
            WHERE {IsLeft} AND EXISTS (SELECT 1 FROM match_key o WHERE o.name = l.name AND o.key = l.key AND o.copy_id <> l.copy_id)
                LIMIT {MaxNamesakes}
            """).AsList();
    }

    /// <summary>
    /// Copies without an analysis, or with one of an earlier version without loudness; lossy copies made here need none.
    /// A file that was set aside waits until it changes.
    /// </summary>
    private const string IsLeft =
        """
        NOT c.is_missing AND NOT EXISTS (SELECT 1 FROM unreadable_file u WHERE u.path = c.path)
            AND NOT EXISTS (SELECT 1 FROM analysis WHERE copy_id = c.id
            AND (true_peak IS NOT NULL OR failure IS NOT NULL OR NOT c.is_lossless
                AND EXISTS (SELECT 1 FROM lineage WHERE lineage.copy_id = c.id)))
        """;

    private List<(long Id, string Path)> NextBatch(long below)
    {
        using var connection = _database.Open();
        return connection.Query<(long Id, string Path)>(
            $"SELECT c.id, c.path FROM copy c WHERE {IsLeft} AND c.id < @below ORDER BY c.id DESC LIMIT {BatchSize}",
            new { below }).AsList();
    }

    private byte[]? Find(long copyId)
    {
        using var connection = _database.Open();
        return connection.QueryFirstOrDefault<byte[]>(
            "SELECT waveform FROM analysis WHERE copy_id = @copyId AND failure IS NULL", new { copyId });
    }

    /// <summary>One analysis per copy and priority: a page never waits for the background queue.</summary>
    private Task AnalyseOneAsync(long copyId, string path, WorkerPriority priority)
    {
        var analysis = new Lazy<Task>(() => AnalyseAsync(copyId, path, priority));
        var task = _underWay.GetOrAdd((copyId, priority), _ => analysis.Value);
        if (analysis.IsValueCreated)
            task.ContinueWith(_ => _underWay.TryRemove((copyId, priority), out Task? _), TaskScheduler.Default);
        return task;
    }

    private async Task AnalyseAsync(long copyId, string path, WorkerPriority priority)
    {
        await Task.Yield();
        var stamp = StampOf(path);
        WorkerReply reply;
        try
        {
            reply = await _workers.RunUnwatchedAsync(new AnalysisJob(path), path, priority, _stopping.Token).ConfigureAwait(false);
        }
        catch (OperationCanceledException)
        {
            // The server ends; the rest is analysed at the next start.
            return;
        }

        var (analysis, failure) = ((reply as AnalysisReply)?.Analysis, reply.Failure);
        if (analysis is null && failure is null)
            return;
        // A file that changed meanwhile is analysed after the next scan; one that is gone is missing.
        _database.Change(connection =>
        {
            var (
                recordedPath, bytes, modifiedAt, number)
                = connection.QuerySingleOrDefault<(string? Path, long Bytes, long ModifiedAt, long Number)>(
                "SELECT path, file_bytes, modified_at, file_number FROM copy WHERE id = @copyId", new { copyId });
            if (recordedPath != path)
                return;
            if (stamp is null)
                connection.Execute("UPDATE copy SET is_missing = 1 WHERE id = @copyId", new { copyId });
            else if (stamp is { } read && read.Fits(new FileStamp(bytes, modifiedAt, number)) && stamp == StampOf(path))
                AnalysisRows.Save(connection, copyId, analysis, failure);
            else
                _logger.LogInformation("Copy {CopyId} changed during its analysis", copyId);
        });
    }

    private static FileStamp? StampOf(string path) => FileStamp.Of(path) is var stamp && stamp != FileStamp.None ? stamp : null;
}
