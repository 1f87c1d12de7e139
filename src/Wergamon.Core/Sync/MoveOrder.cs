namespace Wergamon.Core.Sync;

/// <summary>A file that gets another name.</summary>
public readonly record struct FileMove(string From, string To);

/// <summary>Orders moves so that no file goes where another still is. Names that differ only in case count as one.</summary>
public static class MoveOrder
{
    /// <param name="moves">No two of them come from, or go to, the same name.</param>
    /// <param name="aside">A free name beside a file; each call gives another one for another file.</param>
    /// <returns>The moves; of those that wait for each other in a circle, one goes aside first.</returns>
    public static IReadOnlyList<FileMove> Sort(IEnumerable<FileMove> moves, Func<string, string> aside)
    {
        var pending = moves.Where(move => move.From != move.To)
            .ToDictionary(move => move.From, move => move.To, StringComparer.OrdinalIgnoreCase);
        var waiting = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        foreach (var (from, to) in pending)
        {
            if (pending.ContainsKey(to))
                waiting[to] = from;
        }

        var sorted = new List<FileMove>(pending.Count);
        foreach (var (from, to) in pending.Where(move => !pending.ContainsKey(move.Value)).ToList())
            Follow(from, to);
        while (pending.Count > 0)
        {
            // What is left are circles.
            var (from, to) = pending.First();
            var place = aside(from);
            sorted.Add(new FileMove(from, place));
            pending.Remove(from);
            if (waiting.TryGetValue(from, out var next) && pending.TryGetValue(next, out var there))
                Follow(next, there);
            sorted.Add(new FileMove(place, to));
        }

        return sorted;

        void Follow(string from, string to)
        {
            while (true)
            {
                sorted.Add(new FileMove(from, to));
                pending.Remove(from);
                if (!waiting.TryGetValue(from, out var next) || !pending.TryGetValue(next, out var there))
                    return;
                (from, to) = (next, there);
            }
        }
    }
}
