using System.Text.RegularExpressions;

namespace Wergamon.Core.Discs;

/// <summary>
/// The codes that a disc can carry: the ISRC of each track (ISO 3901) and the catalogue number of the whole (13 digits, GTIN-13).
/// </summary>
public static partial class DiscCodes
{
    /// <summary>Twelve characters without dashes, upper case; null for anything that is not an ISRC.</summary>
    public static string? NormaliseIsrc(string? text)
    {
        var bare = text?.Replace("-", "", StringComparison.Ordinal).Trim().ToUpperInvariant() ?? "";
        return IsrcShape().IsMatch(bare) ? bare : null;
    }

    /// <summary>True for 13 digits of which the last is the check digit of the others.</summary>
    public static bool IsCatalogueNumber(string? text) =>
        text is { Length: 13 } && text.All(char.IsAsciiDigit) && CheckDigit(text.AsSpan(0, 12)) == text[12] - '0';

    /// <summary>
    /// The digit behind twelve others: their sum, weighted 1 and 3 in turn, filled up to a multiple of ten (GS1 General Specifications,
    /// 7.9).
    /// </summary>
    public static int CheckDigit(ReadOnlySpan<char> twelveDigits)
    {
        int sum = 0;
        for (int i = 0; i < twelveDigits.Length; i++)
            sum += (twelveDigits[i] - '0') * (i % 2 == 0 ? 1 : 3);
        return (10 - sum % 10) % 10;
    }

    [GeneratedRegex("^[A-Z]{2}[A-Z0-9]{3}[0-9]{7}$")]
    private static partial Regex IsrcShape();
}
