using System.Globalization;

namespace Wergamon.Core.Tags;

/// <summary>Ratings of 1 to 5, and the other scales that files use for them.</summary>
public static class Rating
{
    public const int Max = 5;

    /// <summary>
    /// The rating that a text means: 1 to 5 as it is, larger numbers up to 100 as percent (common practice, no source); null for 0 and for
    /// any other text.
    /// </summary>
    public static int? Of(string? text)
    {
        if (!double.TryParse(text, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out double value)
            || value is <= 0 or > 100)
            return null;
        return (int)Math.Max(1, Math.Round(value <= Max ? value : value / 20, MidpointRounding.AwayFromZero));
    }

    /// <summary>A rating of 20, 40 ... 100 percent as 1 to 5; any other text as it is.</summary>
    internal static string FromPercent(string text) => text is "20" or "40" or "60" or "80" or "100" ? ToText(Of(text)!.Value) : text;

    /// <summary>A rating of 1 to 5 in percent; any other text as it is.</summary>
    internal static string ToPercent(string text) => IsPlain(text) ? (20 * Of(text)!.Value).ToString(CultureInfo.InvariantCulture) : text;

    /// <summary>True for a text that is one of the five ratings as we write them.</summary>
    internal static bool IsPlain(string text) => text is [>= '1' and <= '5'];

    internal static string ToText(int rating) => rating.ToString(CultureInfo.InvariantCulture);
}
