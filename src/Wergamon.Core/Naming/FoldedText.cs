using System.Globalization;
using System.Text;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Naming;

/// <summary>Text without case, accents and compatibility forms, for search and sorting: "Ärger" and "ARGER" are one.</summary>
public static class FoldedText
{
    /// <summary>
    /// Unicode NFKD with combining marks removed and case folded. Letters that are not letters with marks stay as they are.
    /// </summary>
    public static string Fold(string text)
    {
        if (Ascii.IsValid(text))
            return text.ToLowerInvariant();
        var apart = WellFormedText.Normalize(text, NormalizationForm.FormKD);
        var folded = new StringBuilder(apart.Length);
        foreach (char c in apart)
        {
            if (CharUnicodeInfo.GetUnicodeCategory(c) is not (
                UnicodeCategory.NonSpacingMark or UnicodeCategory.EnclosingMark or UnicodeCategory.Format))
                folded.Append(char.ToLowerInvariant(c));
        }

        return folded.Replace("ß", "ss")
            .Replace("æ", "ae")
            .Replace("ø", "o")
            .Replace("œ", "oe")
            .Replace("ł", "l")
            .Replace("đ", "d")
            .ToString();
    }

    /// <summary>
    /// Key for natural order: folded, with numbers by value, "2" before "10". Compares by code points.
    /// </summary>
    public static string SortKey(string text)
    {
        var folded = Fold(text.Trim());
        var key = new StringBuilder(folded.Length + 8);
        for (int at = 0; at < folded.Length;)
        {
            if (!char.IsAsciiDigit(folded[at]))
            {
                key.Append(folded[at++]);
                continue;
            }

            int end = at;
            while (end < folded.Length && char.IsAsciiDigit(folded[end]))
                end++;
            var digits = folded.AsSpan(at, end - at).TrimStart('0');
            // The digit count goes before the digits, itself as a digit, so that numbers keep their place among letters.
            for (int more = digits.Length; more >= 9; more -= 9)
                key.Append('9');
            key.Append((char)('0' + digits.Length % 9)).Append(digits);
            at = end;
        }

        return key.ToString();
    }

    /// <summary>Search words of a text, folded; scripts without spaces between words are split into single characters.</summary>
    public static IEnumerable<string> Words(string text)
    {
        var word = new StringBuilder();
        foreach (var rune in Fold(text).EnumerateRunes())
        {
            bool isWord = Rune.IsLetterOrDigit(rune);
            if (word.Length > 0 && (!isWord || IsWordOfItsOwn(rune)))
            {
                yield return word.ToString();
                word.Clear();
            }

            if (isWord && IsWordOfItsOwn(rune))
                yield return rune.ToString();
            else if (isWord)
                word.Append(rune.ToString());
        }

        if (word.Length > 0)
            yield return word.ToString();
    }

    /// <summary>Han, kana and Thai are written without spaces between words.</summary>
    private static bool IsWordOfItsOwn(Rune rune) =>
        rune.Value is >= 0x3040 and <= 0x30FF or >= 0x3400 and <= 0x9FFF or >= 0x20000 and <= 0x3FFFF or >= 0x0E00 and <= 0x0E7F;
}
