using Wergamon.App.Runs;

namespace Wergamon.App.Deliver;

/// <summary>A disc or file that was planned, at a glance.</summary>
/// <param name="Lengths">How long its tracks play, in order.</param>
/// <param name="Run">The newest; null before the first.</param>
public sealed record DeliveryOverview(DeliveryRow Row, IReadOnlyList<TimeSpan> Lengths, RunRow? Run)
{
    public TimeSpan Length => Lengths.Aggregate(TimeSpan.Zero, (sum, length) => sum + length);
}

/// <summary>All that is to go out, but sticks.</summary>
public sealed class DeliveryOverviews(DeliveryStore store, RunStore runs)
{
    /// <param name="max">At most so many, the newest first.</param>
    public (IReadOnlyList<DeliveryOverview> Shown, int All) List(int max)
    {
        var all = store.List().Where(row => row.Kind != DeliveryKind.Stick).ToList();
        var shown = all.Take(max).ToList();
        var ids = shown.Select(row => row.Id).ToList();
        var (lengths, latest) = (store.Lengths(ids), store.LatestRuns(ids));
        var known = runs.Get(latest.Values);
        return (
            [
                .. shown.Select(row => new DeliveryOverview(
                    row, [.. lengths[row.Id]], latest.TryGetValue(row.Id, out long run) ? known.GetValueOrDefault(run) : null))
            ],
            all.Count);
    }
}
