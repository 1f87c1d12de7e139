using System.Globalization;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Naming;

/// <summary>Problems in the track numbers of an album: gaps and duplicates.</summary>
public static class AlbumNumbers
{
    /// <summary>Maximum numbers listed one by one; beyond that, only the count.</summary>
    private const int MaxListed = 6;

    /// <param name="tracks">Disc and number of each track; null if a file does not say.</param>
    /// <param name="totals">Track totals of each disc from the tags, where present; under 0 for files without a disc number.</param>
    /// <returns>A sentence for each problem: "Track 4 is missing." Empty when there is none, or when no track has a number.</returns>
    public static IReadOnlyList<string> Oddities(IReadOnlyCollection<(int? Disc, int? Number)> tracks, IReadOnlyDictionary<int, int> totals)
    {
        var sentences = new List<string>();
        var discs = tracks.Where(track => track.Number is > 0).GroupBy(track => track.Disc ?? 0).OrderBy(disc => disc.Key).ToList();
        foreach (var disc in discs)
        {
            var numbers = disc.Select(track => track.Number!.Value).ToList();
            var place = discs.Count > 1
                ? disc.Key == 0
                ? "Without a disc: "
                : string.Create(CultureInfo.InvariantCulture, $"Disc {disc.Key}: ")
                : "";
            // A total below the numbers present is wrong; one from another edition can be far too large.
            Say(
                sentences, place, Missing([.. numbers], Math.Max(numbers.Max(), totals.GetValueOrDefault(disc.Key))), "is missing",
                "are missing");
            var repeated = numbers.GroupBy(number => number).Where(group => group.Count() > 1).Select(group => group.Key).Order().ToList();
            Say(sentences, place, (repeated.Count, repeated), "occurs more than once", "occur more than once");
        }

        int without = tracks.Count(track => track.Number is not > 0);
        if (without > 0 && discs.Count > 0)
            sentences.Add(
                string.Create(CultureInfo.InvariantCulture, $"{without} {(without == 1 ? "track has" : "tracks have")} no number."));
        return sentences;
    }

    /// <summary>
    /// Missing numbers up to the last: their count, and the first few with the last. Costs no more than there are tracks,
    /// whatever the last one is.
    /// </summary>
    private static (int Count, IReadOnlyList<int> Some) Missing(HashSet<int> present, int last)
    {
        var some = new List<int>();
        for (int number = 1; number <= last && some.Count < MaxListed; number++)
        {
            if (!present.Contains(number))
                some.Add(number);
        }

        int final = last;
        while (present.Contains(final))
            final--;
        if (some.Count == MaxListed && final > some[^1])
            some.Add(final);
        return (last - present.Count(number => number <= last), some);
    }

    private static void Say(List<string> sentences, string place, (int Count, IReadOnlyList<int> Some) numbers, string one, string many)
    {
        var (count, some) = numbers;
        if (count == 0)
            return;
        var list = count == 1 ? $"Track {some[0]} {one}"
            : count > MaxListed ? string.Create(CultureInfo.InvariantCulture, $"{count:N0} tracks between {some[0]} and {some[^1]} {many}")
            : $"Tracks {string.Join(", ", some.SkipLast(1))} and {some[^1]} {many}";
        sentences.Add(place + (place.Length > 0 ? char.ToLowerInvariant(list[0]) + list[1..] : list) + ".");
    }
}
