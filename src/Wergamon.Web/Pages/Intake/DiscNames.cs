using System.Globalization;
using Wergamon.Core.Discs;

namespace Wergamon.Web.Pages.Intake;

/// <summary>What was typed as the names of a disc.</summary>
public sealed class DiscNames
{
    private const int Longest = 500;

    public string? Title { get; set; }

    public string? Artist { get; set; }

    public string? Year { get; set; }

    public string? Genre { get; set; }

    public int Disc { get; set; } = 1;

    public int DiscTotal { get; set; } = 1;

    /// <summary>Titles in the order of the table.</summary>
    public IReadOnlyList<string?> Titles { get; set; } = [];

    /// <summary>Artists beside them; empty where it is the album's.</summary>
    public IReadOnlyList<string?> Artists { get; set; } = [];

    /// <summary>The album with these names on it.</summary>
    public DiscAlbum On(DiscAlbum album)
    {
        var artist = Clean(Artist);
        return album with
        {
            Title = Clean(Title),
            Artist = artist,
            Year = int.TryParse(Year, NumberStyles.None, CultureInfo.InvariantCulture, out int year) && year is > 0 and < 10_000 ? year : null,
            Genre = Clean(Genre),
            Disc = Math.Clamp(Disc, 1, 999),
            DiscTotal = Math.Clamp(Math.Max(Disc, DiscTotal), 1, 999),
            Tracks = [.. album.Tracks.Select((track, i) => track with { Title = Clean(Titles.ElementAtOrDefault(i)), Artist = Clean(Artists.ElementAtOrDefault(i)) is { Length: > 0 } own && own != artist ? own : null })],
        };
    }

    private static string Clean(string? text)
    {
        var line = text?.ReplaceLineEndings(" ").Trim() ?? "";
        return line.Length > Longest ? line[..Longest] : line;
    }
}
