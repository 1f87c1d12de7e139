using System.Globalization;
using System.Text.RegularExpressions;

namespace Wergamon.Core.Tags;

/// <summary>One line of lyrics and when it is sung. As text: [01:23.45]words, with a third decimal where it is needed.</summary>
public readonly partial record struct TimedLine(TimeSpan Time, string Words)
{
    /// <summary>The lines of a text that consists of such lines only; null for any other text.</summary>
    public static IReadOnlyList<TimedLine>? Parse(string text)
    {
        var lines = new List<TimedLine>();
        foreach (var line in text.Split('\n'))
        {
            if (Pattern().Match(line) is not { Success: true } match)
                return null;
            int minutes = Int(match.Groups["minutes"]), seconds = Int(match.Groups["seconds"]),
                milliseconds = Int(match.Groups["fraction"]) * (match.Groups["fraction"].Length == 2 ? 10 : 1);
            lines.Add(new TimedLine(new TimeSpan(0, 0, minutes, seconds, milliseconds), match.Groups["words"].Value));
        }

        return lines;
    }

    /// <summary>
    /// The lines of a text as people write it: times without fraction, with one digit or with blanks behind them; null where a line has no
    /// time.
    /// </summary>
    public static IReadOnlyList<TimedLine>? ParseTyped(string text)
    {
        var lines = new List<TimedLine>();
        foreach (var line in text.Split('\n', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries))
        {
            if (Typed().Match(line) is not { Success: true } match)
                return null;
            double fraction = match.Groups["fraction"].Length == 0
                ? 0
                : double.Parse("0." + match.Groups["fraction"].Value, CultureInfo.InvariantCulture);
            lines.Add(
                new TimedLine(
                    new TimeSpan(0, 0, Int(match.Groups["minutes"]), Int(match.Groups["seconds"]), (int)Math.Round(1000 * fraction)),
                    match.Groups["words"].Value.Trim()));
        }

        return lines.Count > 0 ? lines : null;
    }

    public static string Format(IEnumerable<TimedLine> lines) => string.Join('\n', lines);

    public override string ToString()
    {
        int milliseconds = Time.Milliseconds;
        var fraction = milliseconds % 10 == 0
            ? (milliseconds / 10).ToString("00", CultureInfo.InvariantCulture)
            : milliseconds.ToString("000", CultureInfo.InvariantCulture);
        return string.Create(CultureInfo.InvariantCulture, $"[{(int)Time.TotalMinutes:00}:{Time.Seconds:00}.{fraction}]{Words}");
    }

    private static int Int(Group group) => int.Parse(group.ValueSpan, NumberStyles.None, CultureInfo.InvariantCulture);

    [GeneratedRegex(
        @"^\[(?<minutes>[0-9]{1,4}):(?<seconds>[0-5][0-9])([.:](?<fraction>[0-9]{1,3}))?\](?<words>[^\0]*)$",
        RegexOptions.CultureInvariant)]
    private static partial Regex Typed();

    [GeneratedRegex(
        @"^\[(?<minutes>[0-9]{2,4}):(?<seconds>[0-5][0-9])\.(?<fraction>[0-9]{2,3})\](?<words>[^\0\r\n]*)$", RegexOptions.CultureInvariant)]
    private static partial Regex Pattern();
}
