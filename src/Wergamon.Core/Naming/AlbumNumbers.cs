using System.Globalization;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Naming;

/// <summary>Problems in the track numbers of an album: gaps and duplicates.</summary>
public static class AlbumNumbers
{
    /// <summary>Maximum numbers listed one by one; beyond that, only the count.</summary>
    private const int MaxListed = 6;

    /// <param name="tracks">Disc and number of each track; null where a file does not tell.</param>
    /// <param name="totals">Track totals of each disc from the tags, where present; under 0 for files without a disc number.</param>
    /// <returns>A sentence for each problem: "Track 4 is missing." Empty when there is none, or when no track has a number.</returns>
    public static IReadOnlyList<string> Oddities(IReadOnlyCollection<(int? Disc, int? Number)> tracks, IReadOnlyDictionary<int, int> totals)
    {
        var sentences = new List<string>();
        var discs = tracks.Where(track => track.Number is > 0).GroupBy(track => track.Disc ?? 0).OrderBy(disc => disc.Key).ToList();
        foreach (var disc in discs)
        {
            var numbers = disc.Select(track => track.Number!.Value).ToList();
            var place = discs.Count > 1 ? disc.Key == 0 ? "Without a disc: " : string.Create(CultureInfo.InvariantCulture, $"Disc {disc.Key}: ") : "";
            // A total below the numbers present is wrong; one from another edition can be far too large.
            int last = Math.Max(numbers.Max(), totals.GetValueOrDefault(disc.Key));
            var present = numbers.ToHashSet();
            Say(sentences, place, [.. Enumerable.Range(1, last).Where(number => !present.Contains(number))], "is missing", "are missing");
            Say(sentences, place, [.. numbers.GroupBy(number => number).Where(group => group.Count() > 1).Select(group => group.Key).Order()], "stands there more than once", "stand there more than once");
        }

        int without = tracks.Count(track => track.Number is not > 0);
        if (without > 0 && discs.Count > 0)
            sentences.Add(string.Create(CultureInfo.InvariantCulture, $"{without} {(without == 1 ? "track has" : "tracks have")} no number."));
        return sentences;
    }

    private static void Say(List<string> sentences, string place, List<int> numbers, string one, string many)
    {
        if (numbers.Count == 0)
            return;
        var list = numbers.Count == 1 ? $"Track {numbers[0]} {one}"
            : numbers.Count > MaxListed ? string.Create(CultureInfo.InvariantCulture, $"{numbers.Count:N0} tracks between {numbers[0]} and {numbers[^1]} {many}")
            : $"Tracks {string.Join(", ", numbers.SkipLast(1))} and {numbers[^1]} {many}";
        sentences.Add(place + (place.Length > 0 ? char.ToLowerInvariant(list[0]) + list[1..] : list) + ".");
    }
}
