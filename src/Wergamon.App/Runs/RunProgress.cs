using System.Collections.Concurrent;

namespace Wergamon.App.Runs;

/// <summary>How far one item is.</summary>
/// <param name="Share">From 0 to 1.</param>
/// <param name="Doing">What is being done now; null for what its handler usually does.</param>
/// <param name="Weight">Milliseconds of playing time.</param>
public sealed record ItemProgress(long RunId, long Weight, double Share, string? Doing);

/// <summary>Progress of a run: share, speed, remaining time.</summary>
/// <param name="Share">Of the work of all items, from 0 to 1.</param>
/// <param name="Elapsed">Time spent working.</param>
/// <param name="Remaining">Null while it cannot be estimated.</param>
/// <param name="Speed">As a multiple of playing time; null while it cannot be estimated.</param>
public sealed record RunView(
    RunRow Run, IReadOnlyDictionary<long, ItemProgress> Working, double Share, TimeSpan Elapsed, TimeSpan? Remaining, double? Speed);

/// <summary>Progress of active items, which is not worth keeping in the database.</summary>
public sealed class RunProgress(RunStore runs, TimeProvider time)
{
    private readonly ConcurrentDictionary<long, ItemProgress> _items = new();

    // Runs with items under way: how many, and since when their time has not been recorded.
    private readonly Dictionary<long, (int Items, long Since)> _active = [];

    /// <summary>The last estimate of each run, so that the next does not jump.</summary>
    private readonly ConcurrentDictionary<long, SmoothedEstimate> _remaining = new();

    internal void Report(long itemId, double share, string? doing)
    {
        if (_items.TryGetValue(itemId, out var before))
            _items[itemId] = before with { Share = Math.Clamp(share, 0, 1), Doing = doing };
    }

    internal void Begin(RunItemRow item)
    {
        _items[item.Id] = new ItemProgress(item.RunId, item.Weight, 0, null);
        lock (_active)
            _active[item.RunId] = _active.TryGetValue(item.RunId, out var active)
                ? (active.Items + 1, active.Since)
                : (1, time.GetTimestamp());
    }

    /// <summary>An item has ended or waits again; returns the time worked on its run that was not recorded yet.</summary>
    internal TimeSpan End(RunItemRow item)
    {
        _items.TryRemove(item.Id, out _);
        lock (_active)
        {
            if (!_active.TryGetValue(item.RunId, out var active))
                return TimeSpan.Zero;
            if (active.Items == 1)
                _active.Remove(item.RunId);
            else
                _active[item.RunId] = (active.Items - 1, time.GetTimestamp());
            return time.GetElapsedTime(active.Since);
        }
    }

    internal bool HasWork
    {
        get
        {
            lock (_active)
                return _active.Count > 0;
        }
    }

    public RunView? View(long runId) => runs.Get(runId) is { } run ? View(run) : null;

    public RunView View(RunRow run)
    {
        var working = _items.Where(item => item.Value.RunId == run.Id).ToDictionary(item => item.Key, item => item.Value);
        double done = run.EndedWeight + working.Values.Sum(item => item.Weight * item.Share);
        double share = run.Weight > 0 ? Math.Min(1, done / run.Weight) : run.State == RunState.Done ? 1 : 0;
        var elapsed = TimeSpan.FromMilliseconds(run.ActiveMs) + SinceWrittenDown(run.Id);
        TimeSpan? remaining = null;
        if (run.State == RunState.Running && RemainingTime.Estimate(elapsed, share) is { } estimate)
            remaining = _remaining.GetOrAdd(run.Id, _ => new SmoothedEstimate(time)).Next(estimate);
        else
            _remaining.TryRemove(run.Id, out _);
        return new RunView(run, working, share, elapsed, remaining, RemainingTime.Speed(elapsed, done));
    }

    private TimeSpan SinceWrittenDown(long runId)
    {
        lock (_active)
            return _active.TryGetValue(runId, out var active) ? time.GetElapsedTime(active.Since) : TimeSpan.Zero;
    }
}
