using System.Text;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Tags.Tidying;

/// <summary>One name in several spellings.</summary>
/// <param name="Names">Each spelling with how often it occurs, the most frequent first.</param>
public sealed record SpellingGroup(IReadOnlyList<(string Name, int Count)> Names);

/// <summary>Groups names that differ only in case, accents, signs, blanks and the article.</summary>
public static class Spellings
{
    /// <summary>The groups of more than one spelling.</summary>
    public static IReadOnlyList<SpellingGroup> Groups(IEnumerable<string> names) =>
    [
        .. names.GroupBy(KeyOf, StringComparer.Ordinal).Where(group => group.Key.Length > 0)
            .Select(
                group =>
                    new SpellingGroup(
                        [
                            .. group.GroupBy(name => name, StringComparer.Ordinal)
                                .Select(same => (same.Key, same.Count()))
                                .OrderByDescending(each => each.Item2)
                                .ThenBy(each => each.Key, StringComparer.Ordinal)
                        ]))
            .Where(group => group.Names.Count > 1)
                .OrderByDescending(group => group.Names.Sum(each => each.Count))
                .ThenBy(group => group.Names[0].Name, StringComparer.Ordinal),
    ];

    /// <summary>Equal for spellings of one name.</summary>
    public static string KeyOf(string name)
    {
        var key = new StringBuilder();
        foreach (char c in WellFormedText.Normalize(name.Replace("&", " and ", StringComparison.Ordinal), NormalizationForm.FormD)
            .ToLowerInvariant())
        {
            if (char.IsLetterOrDigit(c))
                key.Append(c);
            else if (char.IsWhiteSpace(c) && key.Length > 0 && key[^1] != ' ')
                key.Append(' ');
        }

        var words = key.ToString().Split(' ', StringSplitOptions.RemoveEmptyEntries).ToList();
        // "The Lamps", and "Lamps, The" as shelves have it.
        if (words.Count > 1 && words[0] == "the")
            words.RemoveAt(0);
        else if (words.Count > 1 && words[^1] == "the")
            words.RemoveAt(words.Count - 1);
        return string.Concat(words);
    }
}
