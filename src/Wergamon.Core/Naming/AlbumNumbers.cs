using System.Globalization;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Naming;

/// <summary>What is odd about the numbers of an album's tracks: gaps, and numbers that stand there more than once.</summary>
public static class AlbumNumbers
{
    /// <summary>Numbers that are listed one by one; of more only the count is said.</summary>
    private const int MaxListed = 6;

    /// <param name="tracks">Disc and number of each track; null where a file does not tell.</param>
    /// <param name="totals">How many tracks each disc has by its tags, as far as they tell; under 0 for files that name no disc.</param>
    /// <returns>A sentence for each oddity: "Track 4 is missing." Empty where all is well, and where no track has a number.</returns>
    public static IReadOnlyList<string> Oddities(IReadOnlyCollection<(int? Disc, int? Number)> tracks, IReadOnlyDictionary<int, int> totals)
    {
        var sentences = new List<string>();
        var discs = tracks.Where(track => track.Number is > 0).GroupBy(track => track.Disc ?? 0).OrderBy(disc => disc.Key).ToList();
        foreach (var disc in discs)
        {
            var numbers = disc.Select(track => track.Number!.Value).ToList();
            var place = discs.Count > 1 ? disc.Key == 0 ? "Without a disc: " : string.Create(CultureInfo.InvariantCulture, $"Disc {disc.Key}: ") : "";
            // A total that is smaller than the numbers that are there is wrong; one from another edition can be far too large.
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
