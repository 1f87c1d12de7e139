using System.Globalization;
using System.Text.RegularExpressions;

namespace Wergamon.Core.Tags.Tidying;

/// <summary>
/// Dates in one form: ISO 8601, or the year alone. A date that could be read in two ways keeps its year only if that is sure.
/// </summary>
public static partial class Dates
{
    /// <param name="yearOnly">True to leave month and day out.</param>
    /// <returns>The date in its new form; null for text that is no date.</returns>
    public static string? Tidy(string text, bool yearOnly)
    {
        var trimmed = text.Trim();
        if (Iso().Match(trimmed) is { Success: true } iso)
            return Write(iso.Groups["y"].Value, iso.Groups["m"].Value, iso.Groups["d"].Value, yearOnly);
        if (DayFirst().Match(trimmed) is { Success: true } day)
            return Write(day.Groups["y"].Value, day.Groups["m"].Value, day.Groups["d"].Value, yearOnly);
        if (Slashed().Match(trimmed) is { Success: true } slashed)
        {
            int first = int.Parse(slashed.Groups["a"].Value, CultureInfo.InvariantCulture),
                second = int.Parse(slashed.Groups["b"].Value, CultureInfo.InvariantCulture);
            var year = slashed.Groups["y"].Value;
            return first > 12 ? Write(year, slashed.Groups["b"].Value, slashed.Groups["a"].Value, yearOnly)
                : second > 12 ? Write(year, slashed.Groups["a"].Value, slashed.Groups["b"].Value, yearOnly)
                : yearOnly ? year : null;
        }

        return DateOnly.TryParseExact(
                trimmed, (string[])["MMMM yyyy", "MMM yyyy"], CultureInfo.InvariantCulture, DateTimeStyles.None, out var month)
            ? Write(month.Year.ToString(CultureInfo.InvariantCulture), month.Month.ToString(CultureInfo.InvariantCulture), "", yearOnly)
            : DateOnly.TryParseExact(
                    trimmed, (string[])["d MMMM yyyy", "d MMM yyyy", "MMMM d, yyyy", "MMM d, yyyy"], CultureInfo.InvariantCulture,
                    DateTimeStyles.None, out var date)
                ? yearOnly
                ? date.ToString("yyyy", CultureInfo.InvariantCulture)
                : date.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture)
            : null;
    }

    private static string? Write(string year, string month, string day, bool yearOnly)
    {
        if (yearOnly || month.Length == 0)
            return year;
        int m = int.Parse(month, CultureInfo.InvariantCulture), d = day.Length == 0 ? 0 : int.Parse(day, CultureInfo.InvariantCulture);
        if (m is 0 or > 12 || d > 31)
            return m == 0 ? year : null;
        return d == 0
            ? string.Create(CultureInfo.InvariantCulture, $"{year}-{m:00}")
            : string.Create(CultureInfo.InvariantCulture, $"{year}-{m:00}-{d:00}");
    }

    [GeneratedRegex(@"^(?<y>[12][0-9]{3})([-./](?<m>[0-9]{1,2})([-./](?<d>[0-9]{1,2})([T ].*)?)?)?$")]
    private static partial Regex Iso();

    [GeneratedRegex(@"^(?<d>[0-9]{1,2})\.\s?(?<m>[0-9]{1,2})\.\s?(?<y>[12][0-9]{3})$")]
    private static partial Regex DayFirst();

    [GeneratedRegex(@"^(?<a>[0-9]{1,2})[/-](?<b>[0-9]{1,2})[/-](?<y>[12][0-9]{3})$")]
    private static partial Regex Slashed();
}
