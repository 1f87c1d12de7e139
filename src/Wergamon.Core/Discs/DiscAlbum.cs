using System.Globalization;
using Wergamon.Core.Audio;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Discs;

/// <summary>What a track of a disc is called.</summary>
/// <param name="Number">0 for the hidden track before track 1.</param>
/// <param name="Artist">Null where it is the album's.</param>
public sealed record DiscTitle(int Number, string Title, string? Artist = null);

/// <summary>The album that a disc is, or is part of.</summary>
public sealed record DiscAlbum
{
    public const string HiddenTitle = "Hidden track";

    public string Artist { get; init; } = "";

    public string Title { get; init; } = "";

    public int? Year { get; init; }

    public string Genre { get; init; } = "";

    public int Disc { get; init; } = 1;

    public int DiscTotal { get; init; } = 1;

    /// <summary>In order of their numbers.</summary>
    public IReadOnlyList<DiscTitle> Tracks { get; init; } = [];

    /// <summary>True when tracks are by others than the album is.</summary>
    public bool IsCompilation => Tracks.Any(track => track.Artist is { } artist && artist != Artist);

    /// <summary>An album without text, with a line for each track that can be read.</summary>
    public static DiscAlbum Empty(TableOfContents contents) => new()
    {
        Tracks = [
            .. TrackSpan.Of(contents, Pauses.WithTrackBefore)
                .Select(span => new DiscTitle(span.Number, span.Number == TrackSpan.HiddenNumber ? HiddenTitle : ""))
        ],
    };

    /// <summary>The names in the disc's own text, on the lines of its table of contents; null without text.</summary>
    public static DiscAlbum? From(DiscText text, TableOfContents contents)
    {
        if (text.IsEmpty)
            return null;
        var empty = Empty(contents);
        var artist = text.Album.Performer ?? "";
        return empty with
        {
            Title = text.Album.Title ?? "",
            Artist = artist,
            Tracks = [.. empty.Tracks.Select(track => text.Tracks.TryGetValue(track.Number, out var entry)
                ? new DiscTitle(track.Number, entry.Title ?? "", entry.Performer is { } performer && performer != artist ? performer : null)
                : track)],
        };
    }

    /// <summary>
    /// The same album with the titles in the order given; the hidden track keeps its own. Surplus titles are dropped.
    /// </summary>
    public DiscAlbum WithTitles(IReadOnlyList<DiscTitle> titles)
    {
        var byPlace = titles.ToList();
        int place = 0;
        return this with
        {
            Tracks = [
                .. Tracks.Select(
                    track => track.Number == TrackSpan.HiddenNumber || place >= byPlace.Count
                        ? track
                        : byPlace[place++] with { Number = track.Number })
            ]
        };
    }

    /// <summary>The tags that copies of a track get; 0 is the hidden track.</summary>
    public TagSet TagsOf(int number, TableOfContents contents)
    {
        var track = Tracks.FirstOrDefault(track => track.Number == number) ?? new DiscTitle(number, "");
        var tags = AlbumTags(contents);
        tags.Set(
            FieldNames.Title,
            track.Title.Length > 0 ? track.Title : number == TrackSpan.HiddenNumber ? HiddenTitle : $"Track {Text(number)}");
        tags.Set(FieldNames.Artist, track.Artist ?? Artist);
        tags.Set(FieldNames.Track, Text(number));
        tags.Set(FieldNames.TrackTotal, Text(Tracks.Count(each => each.Number != TrackSpan.HiddenNumber)));
        tags.Set(FieldNames.Isrc, contents.Tracks.FirstOrDefault(entry => entry.Number == number)?.Isrc ?? "");
        return tags;
    }

    /// <summary>The tags of a file that holds the whole disc.</summary>
    public TagSet TagsOfWhole(TableOfContents contents)
    {
        var tags = AlbumTags(contents);
        tags.Set(FieldNames.Title, $"{(Title.Length > 0 ? Title : "Unknown album")} (whole disc)");
        tags.Set(FieldNames.Artist, Artist);
        return tags;
    }

    private TagSet AlbumTags(TableOfContents contents)
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Album, Title.Length > 0 ? Title : $"Disc {DiscId.Checksum(contents)}");
        tags.Set(FieldNames.AlbumArtist, Artist.Length > 0 ? Artist : "Unknown artist");
        tags.Set(FieldNames.Disc, Text(Disc));
        tags.Set(FieldNames.DiscTotal, Text(DiscTotal));
        tags.Set(FieldNames.Year, Year is { } year ? Text(year) : "");
        tags.Set(FieldNames.Genre, Genre);
        tags.Set(FieldNames.Compilation, IsCompilation ? "1" : "");
        tags.Set("barcode", contents.CatalogueNumber ?? "");
        return tags;
    }

    private static string Text(int number) => number.ToString(CultureInfo.InvariantCulture);
}
