using System.Collections.Concurrent;
using Wergamon.Core.Discs.Reading;

namespace Wergamon.App.Intake;

/// <summary>The current position of a drive.</summary>
/// <param name="Track">The track it reads.</param>
/// <param name="ReadOnceTo">The sector up to which the track has been read once.</param>
/// <param name="ReadTwiceTo">The sector up to which readings have been compared.</param>
/// <param name="ReadAgain">Sectors that had to be read again, in this track.</param>
public sealed record ReadingNow(int Track, int FirstSector, int ReadOnceTo, int ReadTwiceTo, IReadOnlyCollection<int> ReadAgain);

/// <summary>Progress of rips under way, which is not worth keeping in the database.</summary>
public sealed class RipProgress
{
    private const int MaxTicks = 400;

    private readonly ConcurrentDictionary<long, ReadingNow> _now = new();
    private readonly ConcurrentDictionary<long, Action<ReadingNow>> _reports = new();

    public ReadingNow? Of(long runId) => _now.GetValueOrDefault(runId);

    /// <param name="report">Called whenever the reading has made progress.</param>
    public void Begin(long runId, int track, int firstSector, Action<ReadingNow> report)
    {
        _reports[runId] = report;
        _now[runId] = new ReadingNow(track, firstSector, firstSector, firstSector, []);
    }

    public void End(long runId)
    {
        _now.TryRemove(runId, out _);
        _reports.TryRemove(runId, out _);
    }

    /// <summary>Records what a reader reports about its track.</summary>
    public IReadingListener ListenerFor(long runId, bool isCareful) => new Listener(this, runId, isCareful);

    private sealed class Listener(RipProgress progress, long runId, bool isCareful) : IReadingListener
    {
        public void Reached(int sector, bool isSecond) => Change(now => isSecond || !isCareful
            ? now with { ReadTwiceTo = Math.Max(now.ReadTwiceTo, sector), ReadOnceTo = Math.Max(now.ReadOnceTo, sector) }
            : now with { ReadOnceTo = Math.Max(now.ReadOnceTo, sector) });

        public void ReadAgain(int sector) =>
            Change(
                now => now.ReadAgain.Count >= MaxTicks || now.ReadAgain.Contains(sector)
                    ? now
                    : now with { ReadAgain = [.. now.ReadAgain, sector] });

        private void Change(Func<ReadingNow, ReadingNow> change)
        {
            if (!progress._now.TryGetValue(runId, out var now))
                return;
            progress._now[runId] = now = change(now);
            progress._reports.GetValueOrDefault(runId)?.Invoke(now);
        }
    }
}
