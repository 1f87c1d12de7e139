namespace Wergamon.Core.Discs.Burning;

/// <summary>Spreads tracks over several discs in their order, without splitting an album if possible.</summary>
public static class DiscSplit
{
    /// <returns>For each disc how many tracks it takes; empty when a single track is longer than a disc.</returns>
    public static IReadOnlyList<int> Over(IReadOnlyList<BurnTrack> tracks, BurnOptions options, DiscBlank blank)
    {
        var discs = new List<int>();
        for (int from = 0; from < tracks.Count;)
        {
            int most = MostFrom(tracks, from, options, blank);
            if (most == 0)
                return [];
            int count = most;
            // An album that goes on beyond the disc moves to the next one, unless it began with this disc.
            if (from + most < tracks.Count && tracks[from + most].Album is { Length: > 0 } torn)
            {
                int whole = most;
                while (whole > 0 && tracks[from + whole - 1].Album == torn)
                    whole--;
                count = whole > 0 ? whole : most;
            }

            discs.Add(count);
            from += count;
        }

        return discs;
    }

    /// <summary>The tracks to leave out so that the rest fits, fewest first and among equals the shortest that suffices.</summary>
    /// <returns>Places in the list, in order; empty when all fit.</returns>
    public static IReadOnlyList<int> ToLeaveOut(IReadOnlyList<BurnTrack> tracks, BurnOptions options, DiscBlank blank)
    {
        var left = Enumerable.Range(0, tracks.Count).ToList();
        var gone = new List<int>();
        while (left.Count > 0 && Fitting(left) is { } layout && !Fits(layout, blank))
        {
            int over = layout.LeadOut - blank.Sectors;
            // The shortest that is long enough, else the longest of all: that leaves the fewest out.
            int chosen = left.Where(place => Sectors(tracks[place]) >= over)
                    .OrderBy(place => tracks[place].Frames)
                    .Cast<int?>()
                    .FirstOrDefault()
                ?? left.MaxBy(place => tracks[place].Frames);
            left.Remove(chosen);
            gone.Add(chosen);
        }

        return [.. gone.Order()];

        DiscLayout Fitting(List<int> places) => DiscLayout.Of([.. places.Select(place => tracks[place])], options);
    }

    private static bool Fits(DiscLayout layout, DiscBlank blank) =>
        layout.LeadOut <= blank.Sectors && layout.Tracks[^1].Number <= AudioDisc.MaxTracks;

    private static long Sectors(BurnTrack track) => track.Frames / AudioDisc.FramesPerSector;

    /// <summary>How many tracks from one on fit; found by halving, since more tracks are never shorter.</summary>
    private static int MostFrom(IReadOnlyList<BurnTrack> tracks, int from, BurnOptions options, DiscBlank blank)
    {
        int fits = 0, tooMany = tracks.Count - from + 1;
        while (tooMany - fits > 1)
        {
            int count = (fits + tooMany) / 2;
            if (Fits(DiscLayout.Of([.. tracks.Skip(from).Take(count)], options), blank))
                fits = count;
            else
                tooMany = count;
        }

        return fits;
    }
}
