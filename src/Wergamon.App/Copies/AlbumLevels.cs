using System.Collections.Concurrent;
using Wergamon.App.Workers;
using Wergamon.Core.Analysis;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Copies;

/// <summary>Measures the tracks of an album together where their common gain could not be known when a run was planned.</summary>
public sealed class AlbumLevels(WorkerPool workers)
{
    private const int MaxRemembered = 100;

    private readonly ConcurrentDictionary<(long RunId, string Album, string Target), Lazy<Task<double>>> _gains = new();

    /// <summary>The job with the gain of its album, if it needs one. Tracks whose sound cannot be read count for nothing.</summary>
    /// <param name="album">Distinguishes the albums of a run.</param>
    /// <param name="target">Distinguishes the targets of a run.</param>
    /// <param name="ofAlbum">The jobs of all its tracks; requested only if they are needed.</param>
    public async Task<ConvertJob> WithGainAsync(
        long runId, string album, string target, ConvertJob job, Func<IReadOnlyList<ConvertJob>> ofAlbum, CancellationToken cancellation)
    {
        if (job.Level is not { AlbumAsOne: true } rule || !job.Steps.Any(step => step is { Kind: StepKind.Gain, Decibels: null }))
            return job;
        if (_gains.Count > MaxRemembered)
            _gains.Clear();
        var key = (runId, album, target);
        var gain = _gains.GetOrAdd(key, _ => new Lazy<Task<double>>(() => MeasureAsync(rule, ofAlbum(), cancellation)));
        try
        {
            double decibels = await gain.Value.ConfigureAwait(false);
            return job with
            {
                Steps = [.. job.Steps.Select(step => step.Kind == StepKind.Gain ? step with { Decibels = decibels } : step)]
            };
        }
        catch
        {
            _gains.TryRemove(new(key, gain));
            throw;
        }
    }

    private async Task<double> MeasureAsync(LevelRule rule, IReadOnlyList<ConvertJob> jobs, CancellationToken cancellation)
    {
        var measured = new List<Loudness>();
        foreach (var job in jobs)
        {
            if (await workers.RunAsync(new LevelJob(job), WorkerPriority.Requested, null, cancellation)
                .ConfigureAwait(false) is LevelReply { Loudness: var loudness })
                measured.Add(loudness);
        }

        if (measured.Count == 0)
            return 0;
        var album = Loudness.OfAll(measured);
        return rule.GainFor(album.Integrated, album.TruePeak);
    }
}
