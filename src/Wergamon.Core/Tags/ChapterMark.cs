using System.Globalization;
using System.Text.RegularExpressions;

namespace Wergamon.Core.Tags;

/// <summary>Where a chapter starts, and its title. As text: 00:01:23.450 The Long Adit.</summary>
public readonly partial record struct ChapterMark(TimeSpan Start, string Title)
{
    /// <summary>The chapters of a field whose values are all chapters, in order of time; null for any other values.</summary>
    public static IReadOnlyList<ChapterMark>? Parse(IReadOnlyList<string> values)
    {
        var marks = new List<ChapterMark>();
        foreach (var value in values)
        {
            if (Pattern().Match(value) is not { Success: true } match || ParseTime(match.Groups["time"].Value) is not { } start
                || (marks.Count > 0 && start < marks[^1].Start))
                return null;
            marks.Add(new ChapterMark(start, match.Groups["title"].Value));
        }

        return marks.Count > 0 ? marks : null;
    }

    /// <summary>A time as HH:MM:SS.mmm; null for any other text.</summary>
    internal static TimeSpan? ParseTime(string text) =>
        TimeSpan.TryParseExact(text, @"hh\:mm\:ss\.fff", CultureInfo.InvariantCulture, out var time) ? time : null;

    internal string StartText => Start.ToString(@"hh\:mm\:ss\.fff", CultureInfo.InvariantCulture);

    public override string ToString() => Title.Length > 0 ? $"{StartText} {Title}" : StartText;

    [GeneratedRegex(@"^(?<time>[0-9]{2}:[0-9]{2}:[0-9]{2}\.[0-9]{3})( (?<title>[^\0\r\n]+))?$", RegexOptions.CultureInvariant)]
    private static partial Regex Pattern();
}
