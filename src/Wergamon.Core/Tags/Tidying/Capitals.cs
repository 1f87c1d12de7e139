using System.Globalization;
using System.Text;

namespace Wergamon.Core.Tags.Tidying;

/// <summary>How capitals are set.</summary>
public enum CapitalStyle
{
    /// <summary>Every Word But the Small Ones.</summary>
    Title,

    /// <summary>The first word only.</summary>
    Sentence,

    /// <summary>Every Word Without Exception.</summary>
    EveryWord,
}

/// <summary>
/// Capitals by rule. Words of the person's own list are spelt as they are there; words with a digit or inner capitals stay.
/// </summary>
public static class Capitals
{
    /// <summary>Kept small within English titles (common practice, no source).</summary>
    private static readonly HashSet<string> SmallWords = new(StringComparer.OrdinalIgnoreCase)
    {
        "a", "an", "the", "and", "but", "or", "nor", "as", "at", "by", "for", "from", "in", "into", "of", "off", "on", "onto", "per", "to",
        "up", "via", "with", "vs",
    };

    /// <summary>The exceptions that are offered first.</summary>
    public static IReadOnlyList<string> UsualExceptions { get; } = [
        "DJ", "MC", "EP", "LP", "UK", "USA", "TV", "II", "III", "IV", "VI", "VII", "VIII", "feat.", "vs."
    ];

    public static string Apply(string text, CapitalStyle style, IReadOnlyList<string> exceptions)
    {
        var spelt = new Dictionary<string, string>(StringComparer.OrdinalIgnoreCase);
        foreach (var exception in exceptions)
            spelt[exception.TrimEnd('.')] = exception.TrimEnd('.');
        bool shouts = !text.Any(char.IsLower);
        var result = new StringBuilder();
        int at = 0;
        bool isFirst = true;
        while (at < text.Length)
        {
            if (!IsOfWord(text, at))
            {
                // After a colon, a dash with blanks or an opening bracket a title begins again.
                isFirst |= text[at] is ':' or '(' or '[' or '/' or '–' || (text[at] == '-' && at > 0 && text[at - 1] == ' ');
                result.Append(text[at++]);
                continue;
            }

            int end = at;
            while (end < text.Length && IsOfWord(text, end))
                end++;
            var word = text[at..end];
            bool isLast = !text.AsSpan(end).ContainsAnyInRange('A', 'z');
            result.Append(Spell(word, style, spelt, isFirst, isLast, shouts));
            isFirst = false;
            at = end;
        }

        return result.ToString();
    }

    private static string Spell(string word, CapitalStyle style, Dictionary<string, string> spelt, bool isFirst, bool isLast, bool shouts)
    {
        if (spelt.TryGetValue(word, out var exact))
            return exact;
        bool isMixed = !shouts && word.Skip(1).Any(char.IsUpper) && word.Any(char.IsLower);
        if (isMixed || word.Any(char.IsDigit))
            return word;
        bool isRaised = style switch
        {
            CapitalStyle.Sentence => isFirst,
            CapitalStyle.Title => isFirst || isLast || !SmallWords.Contains(word),
            _ => true,
        };
        var lower = word.ToLower(CultureInfo.InvariantCulture);
        if (!isRaised)
            return lower;
        var first = StringInfo.GetNextTextElement(lower);
        return first.ToUpper(CultureInfo.InvariantCulture) + lower[first.Length..];
    }

    private static bool IsOfWord(string text, int at) =>
        char.IsLetterOrDigit(text[at]) || char.GetUnicodeCategory(text[at]) == UnicodeCategory.NonSpacingMark
            || (text[at] is '\'' or '’' && at > 0 && char.IsLetter(text[at - 1]));
}
