using System.Threading.Channels;
using Dapper;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Library.Listening;
using Wergamon.App.Storage;
using Wergamon.App.Workers;

namespace Wergamon.App.Sets;

/// <summary>
/// Analyses the music of all tracks, newest first, one copy of each, if the person wants that.
/// </summary>
public sealed class BackgroundMusic : BackgroundService
{
    private const string SettingKey = "music-in-background";
    private const int BatchSize = 32;

    private readonly Database _database;
    private readonly Settings _settings;
    private readonly WorkerPool _workers;
    private readonly AllowedPaths _allowed;
    private readonly MusicReader _music;
    private readonly BackgroundAnalysis _analysis;
    private readonly TimeProvider _time;
    private readonly ILogger<BackgroundMusic> _logger;
    private readonly Channel<bool> _wakes = Channel.CreateBounded<bool>(
        new BoundedChannelOptions(1) { FullMode = BoundedChannelFullMode.DropWrite });

    public BackgroundMusic(
        Database database, Settings settings, WorkerPool workers, AllowedPaths allowed, MusicReader music, BackgroundAnalysis analysis,
        TimeProvider time, ILogger<BackgroundMusic> logger)
    {
        (_database, _settings, _workers, _allowed, _music, _analysis, _time, _logger)
            = (database, settings, workers, allowed, music, analysis, time, logger);
        // The file was just read for its loudness, so it is readable.
        analysis.Changed += Wake;
    }

    public bool IsWanted
    {
        get => _settings.Read(SettingKey, SetsJson.Default.Boolean);
        set
        {
            _settings.Write(SettingKey, value, SetsJson.Default.Boolean);
            Wake();
        }
    }

    /// <summary>Tracks whose music is not known.</summary>
    public int CountLeft() =>
        _database.Read(
            "tracks without music",
            connection => connection.ExecuteScalar<int>($"SELECT COUNT(DISTINCT c.track_id) FROM copy c WHERE {IsLeft}"));

    /// <summary>Estimated time for the tracks not analysed yet, from earlier analyses; null before the first.</summary>
    public TimeSpan? TimeLeft()
    {
        using var connection = _database.Open();
        if (!Throughput.Known(connection).TryGetValue(MusicReader.Work.Key, out double pace))
            return null;
        long length = connection.ExecuteScalar<long>(
            $"SELECT COALESCE(SUM(length_ms), 0) FROM track_line WHERE track_id IN (SELECT c.track_id FROM copy c WHERE {IsLeft})");
        return TimeSpan.FromMilliseconds(pace * length / Math.Max(1, _workers.BackgroundPlaces));
    }

    public override void Dispose()
    {
        _analysis.Changed -= Wake;
        base.Dispose();
    }

    protected override Task ExecuteAsync(CancellationToken stoppingToken) =>
        Guard.KeepRunningAsync(_logger, _time, nameof(BackgroundMusic), RunAsync, stoppingToken);

    private async Task RunAsync(CancellationToken stoppingToken)
    {
        Wake();
        await foreach (bool _ in _wakes.Reader.ReadAllAsync(stoppingToken).ConfigureAwait(false))
        {
            // Each copy once: one that cannot be analysed now is tried again after something has changed.
            long below = long.MaxValue;
            while (IsWanted && NextBatch(below) is { Count: > 0 } batch)
            {
                below = batch[^1].Id;
                await Parallel.ForEachAsync(
                    batch,
                    new ParallelOptions { MaxDegreeOfParallelism = _workers.BackgroundPlaces, CancellationToken = stoppingToken },
                    async (copy, token) =>
                        await Guard.TryAsync(_logger, $"Music analysis of copy {copy.Id}", () => AnalyseAsync(copy.Id, copy.Path, token))
                            .ConfigureAwait(false)).ConfigureAwait(false);
            }
        }
    }

    private const string IsLeft =
        "NOT c.is_missing AND NOT c.is_trashed AND NOT EXISTS (SELECT 1 FROM music m JOIN copy y ON y.id = m.copy_id "
            + "WHERE y.track_id = c.track_id)";

    private List<(long Id, string Path)> NextBatch(long below)
    {
        using var connection = _database.Open();
        return [.. connection.Query<(long Id, string Path, long TrackId)>(
            $"SELECT c.id, c.path, c.track_id FROM copy c WHERE c.id < @below AND {IsLeft} ORDER BY c.id DESC LIMIT {BatchSize}",
            new { below })
            .DistinctBy(copy => copy.TrackId).Select(copy => (copy.Id, copy.Path))];
    }

    private async Task AnalyseAsync(long copyId, string path, CancellationToken cancellation)
    {
        if (!_allowed.MayRead(path) || !PlainFile.Exists(path))
            return;
        try
        {
            await _music.ReadAsync(copyId, path, job => _workers.RunUnwatchedAsync(job, path, WorkerPriority.Background, cancellation))
                .ConfigureAwait(false);
        }
        catch (WorkerLostException lost) when (lost is not WorkerNotStartedException)
        {
            // Again after the others.
            Wake();
        }
    }

    private void Wake() => _wakes.Writer.TryWrite(true);
}
