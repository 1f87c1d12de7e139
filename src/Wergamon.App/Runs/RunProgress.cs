using System.Collections.Concurrent;
using Wergamon.App.Intake;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Runs;

/// <summary>How far one track is, from 0 to 1, and whether it is being read back.</summary>
public readonly record struct ItemProgress(double Share, bool IsProving);

/// <summary>A run as a person wants to see it: how far, how fast, how long still.</summary>
/// <param name="Share">Of the playing time of all tracks, from 0 to 1.</param>
/// <param name="Gone">Time spent working.</param>
/// <param name="Left">Null while there is nothing to reckon with.</param>
/// <param name="Speed">As a multiple of playing time; null while there is nothing to reckon with.</param>
public sealed record RunView(RunRow Run, IReadOnlyList<RunItemRow> Items, IReadOnlyDictionary<long, ItemProgress> Working, double Share, TimeSpan Gone, TimeSpan? Left, double? Speed)
{
    public int Ended => Items.Count(item => item.IsEnded);
}

/// <summary>What is known of running work and not worth a place in the database.</summary>
public sealed class RunProgress(RunStore runs, RipStore rips, RipProgress reading, TimeProvider time)
{
    /// <summary>Reading a disc takes nearly all the time of a rip; the copies are made meanwhile.</summary>
    private const double ReadingShare = 0.95;

    /// <summary>Before this there is too little to reckon a speed from.</summary>
    private static readonly TimeSpan SettlingTime = TimeSpan.FromSeconds(1);

    /// <summary>Encoding and proving together make a track; proving is the shorter part.</summary>
    private const double EncodingShare = 0.9;

    private readonly ConcurrentDictionary<long, ItemProgress> _items = new();
    private readonly ConcurrentDictionary<long, long> _activeSince = new();

    public void Report(long itemId, WorkerProgress progress)
    {
        double part = progress.Total > 0 ? Math.Clamp((double)progress.Done / progress.Total, 0, 1) : 0;
        _items[itemId] = new ItemProgress(progress.Proving ? EncodingShare + (1 - EncodingShare) * part : EncodingShare * part, progress.Proving);
    }

    public void Forget(long itemId) => _items.TryRemove(itemId, out _);

    /// <summary>Notes that a run is being worked on from now.</summary>
    public void Begin(long runId) => _activeSince.TryAdd(runId, time.GetTimestamp());

    /// <summary>Takes out the time worked on a run since <see cref="Begin"/> or the last call.</summary>
    public TimeSpan TakeActive(long runId, bool goesOn)
    {
        if (!_activeSince.TryRemove(runId, out long since))
            return TimeSpan.Zero;
        if (goesOn)
            Begin(runId);
        return time.GetElapsedTime(since);
    }

    public RunView? View(long runId)
    {
        if (runs.Get(runId) is not { } run)
            return null;
        var items = runs.Items(runId);
        var working = items.Where(item => _items.ContainsKey(item.Id)).ToDictionary(item => item.Id, item => _items.GetValueOrDefault(item.Id));
        double total = items.Sum(item => (double)item.DurationMs);
        double done = items.Sum(item => item.IsEnded ? item.DurationMs : item.DurationMs * (working.TryGetValue(item.Id, out var progress) ? progress.Share : 0));
        if (run.Kind == RunKind.Rip)
            done = (1 - ReadingShare) * done + ReadingShare * total * ShareRead(runId);
        var gone = TimeSpan.FromMilliseconds(run.ActiveMs) + (_activeSince.TryGetValue(runId, out long since) ? time.GetElapsedTime(since) : TimeSpan.Zero);
        double? speed = gone > SettlingTime && done > 0 ? done / gone.TotalMilliseconds : null;
        var left = run.State == RunState.Running && speed is { } known ? TimeSpan.FromMilliseconds((total - done) / known) : (TimeSpan?)null;
        return new RunView(run, items, working, total > 0 ? done / total : 1, gone, left, speed);
    }

    /// <summary>Seconds of the disc that have been read, half of those that were read once, as a share of all that is to be read.</summary>
    private double ShareRead(long runId)
    {
        var tracks = rips.Tracks(runId);
        var now = reading.Of(runId);
        double read = tracks.Where(track => track.State == RipTrackState.Read).Sum(track => (double)track.Span.Sectors)
            + (now is null ? 0 : (now.ReadOnceTo - now.FirstSector + now.ReadTwiceTo - now.FirstSector) / 2.0);
        return read / Math.Max(1, tracks.Sum(track => (double)track.Span.Sectors));
    }
}
