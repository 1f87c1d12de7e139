using System.Globalization;

namespace Wergamon.Core.Naming;

/// <summary>Counted things in English.</summary>
public static class Plural
{
    /// <summary>"1 track", "6 tracks", "12,000 copies".</summary>
    /// <param name="noun">A regular noun in the singular.</param>
    public static string Count(long count, string noun) =>
        string.Create(CultureInfo.InvariantCulture, $"{count:N0} {(count is 1 or -1 ? noun : Of(noun))}");

    /// <summary>"tracks", "copies", "passes".</summary>
    private static string Of(string noun) => noun switch
    {
        [.., 'y'] when !"aeiou".Contains(noun[^2], StringComparison.Ordinal) => noun[..^1] + "ies",
        [.., 's'] or [.., 'x'] or [.., 'c' or 's', 'h'] => noun + "es",
        _ => noun + "s",
    };
}
