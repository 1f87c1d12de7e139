using System.Globalization;

namespace Wergamon.Web.Display;

/// <summary>Numbers as people read them, everywhere the same.</summary>
public static class Labels
{
    private const double Million = 1_000_000;

    /// <summary>The first of several reasons, and how many more there are.</summary>
    public static string Reasons(IReadOnlyList<string> reasons)
    {
        const int Shown = 3, MaxLength = 300;
        var text = string.Join(' ', reasons.Take(Shown).Select(reason => Cut(reason, MaxLength)));
        return reasons.Count > Shown ? string.Create(CultureInfo.InvariantCulture, $"{text} And {reasons.Count - Shown:N0} more.") : text;
    }

    /// <summary>Truncates to a number of characters, with an ellipsis.</summary>
    public static string Cut(string text, int maxLength) =>
        text.Length <= maxLength
            ? text
            : text[..(char.IsHighSurrogate(text[maxLength - 2]) ? maxLength - 2 : maxLength - 1)].TrimEnd() + "…";

    /// <summary>Millions of bytes with one decimal: "31.4".</summary>
    public static string Megabytes(long bytes) => (bytes / Million).ToString("N1", CultureInfo.InvariantCulture);

    /// <summary>With its unit, in the unit that reads best: "31.4 MB", "11.2 GB".</summary>
    public static string Size(long bytes) => bytes >= 1000 * Million
        ? (bytes / (1000 * Million)).ToString("N1", CultureInfo.InvariantCulture) + " GB"
        : Megabytes(bytes) + " MB";

    /// <summary>"4:12", "1:04:12".</summary>
    public static string Time(TimeSpan time)
    {
        time = TimeSpan.FromSeconds(Math.Round(Math.Max(0, time.TotalSeconds)));
        return time.TotalHours >= 1
            ? string.Create(CultureInfo.InvariantCulture, $"{(int)time.TotalHours}:{time.Minutes:00}:{time.Seconds:00}")
            : string.Create(CultureInfo.InvariantCulture, $"{time.Minutes}:{time.Seconds:00}");
    }

    /// <summary>"84 %".</summary>
    public static string Percent(double share) => string.Create(CultureInfo.InvariantCulture, $"{Math.Round(100 * share):0} %");

    /// <summary>"today", "yesterday", "12 June 2026", in the time of the machine.</summary>
    public static string Day(long unixMilliseconds, DateTimeOffset now)
    {
        var day = DateTimeOffset.FromUnixTimeMilliseconds(unixMilliseconds).ToLocalTime().Date;
        int ago = (now.ToLocalTime().Date - day).Days;
        return ago == 0 ? "today" : ago == 1 ? "yesterday" : day.ToString("d MMMM yyyy", CultureInfo.InvariantCulture);
    }
}
