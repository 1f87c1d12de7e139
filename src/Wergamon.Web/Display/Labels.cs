using System.Globalization;
using Wergamon.Core.Bytes;
using Wergamon.Core.Naming;

namespace Wergamon.Web.Display;

/// <summary>Numbers as people read them, everywhere the same.</summary>
public static class Labels
{
    private const double Million = 1_000_000;

    /// <summary>The first of several reasons, and how many more there are.</summary>
    public static string Reasons(IReadOnlyList<string> reasons)
    {
        const int Shown = 3, MaxLength = 300;
        var text = string.Join(' ', reasons.Take(Shown).Select(reason => WellFormedText.Cut(reason, MaxLength)));
        return reasons.Count > Shown ? string.Create(CultureInfo.InvariantCulture, $"{text} And {reasons.Count - Shown:N0} more.") : text;
    }

    /// <summary>Millions of bytes with one decimal: "31.4".</summary>
    public static string Megabytes(long bytes) => (bytes / Million).ToString("N1", CultureInfo.InvariantCulture);

    /// <summary>With its unit, in the unit that reads best: "31.4 MB", "11.2 GB".</summary>
    public static string Size(long bytes) => bytes >= 1000 * Million
        ? (bytes / (1000 * Million)).ToString("N1", CultureInfo.InvariantCulture) + " GB"
        : Megabytes(bytes) + " MB";

    /// <summary>Sizes before and after, in the unit of the larger: "17.2 to 9.8 MB".</summary>
    public static string FromTo(long before, long after)
    {
        bool isLarge = Math.Max(before, after) >= 1000 * Million;
        double unit = isLarge ? 1000 * Million : Million;
        return string.Create(CultureInfo.InvariantCulture, $"{before / unit:N1} to {after / unit:N1} {(isLarge ? "GB" : "MB")}");
    }

    /// <summary>"4:12", "1:04:12".</summary>
    public static string Time(TimeSpan time)
    {
        time = TimeSpan.FromSeconds(Math.Round(Math.Max(0, time.TotalSeconds)));
        return time.TotalHours >= 1
            ? string.Create(CultureInfo.InvariantCulture, $"{(int)time.TotalHours}:{time.Minutes:00}:{time.Seconds:00}")
            : string.Create(CultureInfo.InvariantCulture, $"{time.Minutes}:{time.Seconds:00}");
    }

    /// <summary>An estimate: "20 seconds", "4 minutes", "3 hours".</summary>
    public static string RoughTime(TimeSpan time) => time switch
    {
        { TotalMinutes: < 1 } => Plural.Count(Math.Max(1, (int)Math.Ceiling(time.TotalSeconds / 10)) * 10, "second"),
        { TotalHours: < 2 } => Plural.Count((int)Math.Ceiling(time.TotalMinutes), "minute"),
        _ => Plural.Count((int)Math.Ceiling(time.TotalHours), "hour"),
    };

    /// <summary>"84 %".</summary>
    public static string Percent(double share) => string.Create(CultureInfo.InvariantCulture, $"{Math.Round(100 * share):0} %");

    /// <summary>"today 18:02", "yesterday 9:15", "12 June 2026", in the time of the machine.</summary>
    public static string Moment(long unixMilliseconds, DateTimeOffset now)
    {
        var (day, time) = (Day(unixMilliseconds, now), DateTimeOffset.FromUnixTimeMilliseconds(unixMilliseconds).ToLocalTime());
        return char.IsAsciiDigit(day[0]) ? day : string.Create(CultureInfo.InvariantCulture, $"{day} {time:H:mm}");
    }

    /// <summary>"today", "yesterday", "12 June 2026", in the time of the machine.</summary>
    public static string Day(long unixMilliseconds, DateTimeOffset now)
    {
        var day = DateTimeOffset.FromUnixTimeMilliseconds(unixMilliseconds).ToLocalTime().Date;
        int ago = (now.ToLocalTime().Date - day).Days;
        return ago == 0 ? "today" : ago == 1 ? "yesterday" : day.ToString("d MMMM yyyy", CultureInfo.InvariantCulture);
    }
}
