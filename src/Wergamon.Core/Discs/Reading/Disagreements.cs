namespace Wergamon.Core.Discs.Reading;

/// <summary>The stretches on which two readings disagree, and how they are grouped to be read again.</summary>
internal static class Disagreements
{
    /// <summary>Maximum frames of a re-read: short, so that counting votes takes little memory.</summary>
    private const int LongestStretch = 26 * AudioDisc.FramesPerSector;

    /// <summary>Maximum stretches re-read in one go, so that the drive's cache is flushed once for all of them.</summary>
    private const int MaxFramesTogether = 4 * LongestStretch;

    /// <summary>Where two readings differ, as frames of the disc.</summary>
    public static List<(long From, long End)> Between(ReadOnlySpan<uint> first, ReadOnlySpan<uint> second, long start)
    {
        var found = new List<(long From, long End)>();
        for (int at = first.CommonPrefixLength(second); at < first.Length;)
        {
            int end = at;
            while (end < first.Length && first[end] != second[end])
                end++;
            found.Add((start + at, start + end));
            at = end + first[end..].CommonPrefixLength(second[end..]);
        }

        return found;
    }

    /// <summary>
    /// The same as stretches to re-read: neighbours too close to place a read between them are merged, long ones are split.
    /// </summary>
    /// <param name="gap">Minimum frames between two stretches that can place a read.</param>
    public static List<(long From, long End)> Stretches(IEnumerable<(long From, long End)> places, int gap)
    {
        var found = new List<(long From, long End)>();
        foreach (var (from, end) in places.Order())
        {
            if (found.Count > 0 && from - found[^1].End < gap && (from <= found[^1].End || end - found[^1].From <= LongestStretch))
                found[^1] = (found[^1].From, Math.Max(found[^1].End, end));
            else
                found.Add((from, end));
        }

        return [.. found.SelectMany(Parts)];
    }

    /// <summary>Those that are read again in one go.</summary>
    public static IEnumerable<List<(long From, long End)>> Together(List<(long From, long End)> stretches)
    {
        var together = new List<(long From, long End)>();
        foreach (var stretch in stretches)
        {
            if (together.Count > 0 && together.Sum(each => each.End - each.From) + stretch.End - stretch.From > MaxFramesTogether)
            {
                yield return together;
                together = [];
            }

            together.Add(stretch);
        }

        if (together.Count > 0)
            yield return together;
    }

    private static IEnumerable<(long From, long End)> Parts((long From, long End) stretch)
    {
        for (long from = stretch.From; from < stretch.End; from += LongestStretch)
            yield return (from, Math.Min(stretch.End, from + LongestStretch));
    }
}
