using System.Text.RegularExpressions;

namespace Wergamon.Core.Tags.Tidying;

/// <summary>Where guests are named.</summary>
public enum GuestLocation
{
    /// <summary>"Title (feat. Guest)".</summary>
    Title,

    /// <summary>"Artist feat. Guest".</summary>
    Artist,

    /// <summary>A value of its own in the artist field.</summary>
    Values,
}

/// <summary>
/// Brings guest artists into one convention, wherever and however they are named: feat., ft., featuring, with brackets or without.
/// </summary>
public static partial class GuestArtists
{
    /// <summary>New title and artists; the old ones where nobody is a guest.</summary>
    public static (string? Title, IReadOnlyList<string> Artists) Apply(string? title, IReadOnlyList<string> artists, GuestLocation place)
    {
        var guests = new List<string>();
        var bareTitle = title is null ? null : Take(title, guests);
        List<string> bareArtists = [.. artists.Select(artist => Take(artist, guests)).Where(artist => artist.Length > 0)];
        if (guests.Count == 0)
            return (title, artists);
        guests = [
            .. guests.Distinct(StringComparer.OrdinalIgnoreCase)
                .Where(guest => !bareArtists.Contains(guest, StringComparer.OrdinalIgnoreCase))
        ];
        if (guests.Count == 0)
            return (bareTitle, bareArtists);
        var named = guests.Count == 1 ? guests[0] : string.Join(", ", guests.SkipLast(1)) + " & " + guests[^1];
        return place switch
        {
            GuestLocation.Title => ($"{bareTitle} (feat. {named})".TrimStart(), bareArtists),
            GuestLocation.Artist =>
                (bareTitle, bareArtists.Count == 0 ? [named] : [.. bareArtists.SkipLast(1), $"{bareArtists[^1]} feat. {named}"]),
            _ => (bareTitle, [.. bareArtists, .. guests]),
        };
    }

    private static string Take(string text, List<string> guests)
    {
        var match = InBrackets().Match(text);
        if (!match.Success)
            match = AtEnd().Match(text);
        if (!match.Success)
            return text;
        guests.AddRange(Separators().Split(match.Groups["guest"].Value).Select(guest => guest.Trim()).Where(guest => guest.Length > 0));
        return Spaces.Tidy(text.Remove(match.Index, match.Length).Insert(match.Index, " "));
    }

    [GeneratedRegex(@"\s*[\(\[]\s*(feat\.?|ft\.?|featuring)\s+(?<guest>[^\)\]]+)[\)\]]", RegexOptions.IgnoreCase)]
    private static partial Regex InBrackets();

    /// <summary>To the end, or to a bracket that says something else.</summary>
    [GeneratedRegex(@"\s+(feat\.?|ft\.|featuring)\s+(?<guest>[^\(\[]+)", RegexOptions.IgnoreCase)]
    private static partial Regex AtEnd();

    [GeneratedRegex(@"\s*(?:,|&|;| and )\s*")]
    private static partial Regex Separators();
}
