using System.Globalization;
using Wergamon.Core.Discs;

namespace Wergamon.Web.Pages.Intake;

/// <summary>The names typed for a disc.</summary>
public sealed class DiscNames
{
    private const int Longest = 500;

    public string? Title { get; set; }

    public string? Artist { get; set; }

    public string? Year { get; set; }

    public string? Genre { get; set; }

    public int Disc { get; set; } = 1;

    public int DiscTotal { get; set; } = 1;

    /// <summary>The album with these names on it.</summary>
    /// <param name="titles">Titles in the order of the table.</param>
    /// <param name="artists">Their artists; empty for the album's.</param>
    public DiscAlbum On(DiscAlbum album, IReadOnlyList<string?> titles, IReadOnlyList<string?> artists)
    {
        var artist = Clean(Artist);
        return album with
        {
            Title = Clean(Title),
            Artist = artist,
            Year = int.TryParse(Year, NumberStyles.None, CultureInfo.InvariantCulture, out int year) && year is > 0 and < 10_000
                ? year
                : null,
            Genre = Clean(Genre),
            Disc = Math.Clamp(Disc, 1, 999),
            DiscTotal = Math.Clamp(Math.Max(Disc, DiscTotal), 1, 999),
            Tracks = [
                .. album.Tracks.Select(
                    (track, i) =>
                        track with
                        {
                            Title = Clean(titles.ElementAtOrDefault(i)),
                            Artist = Clean(artists.ElementAtOrDefault(i)) is { Length: > 0 } own && own != artist ? own : null
                        })
            ],
        };
    }

    private static string Clean(string? text)
    {
        var line = text?.ReplaceLineEndings(" ").Trim() ?? "";
        return line.Length > Longest ? line[..Longest] : line;
    }
}
