using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;

namespace Wergamon.App.Tracks;

/// <summary>Track and album of a file by its tags or, without tags, by its name.</summary>
internal sealed record TrackFacts
{
    public required string Title { get; init; }

    public required string Artist { get; init; }

    public int? Disc { get; init; }

    public int? Number { get; init; }

    public required string Album { get; init; }

    public required string AlbumArtist { get; init; }

    public required string AlbumIdentity { get; init; }

    public string? Year { get; init; }

    public string? Genre { get; init; }

    public static TrackFacts From(TagSet tags, string path)
    {
        var folder = Path.GetDirectoryName(path)!;
        var artist = Cut(tags.First(FieldNames.Artist) ?? tags.First(FieldNames.AlbumArtist)) ?? "";
        bool isCompilation = tags.First(FieldNames.Compilation) == "1";
        var albumArtist = Cut(tags.First(FieldNames.AlbumArtist)) ?? (isCompilation ? "Various" : artist);
        // Files without an album stay together by folder and are named after it.
        var album = Cut(tags.First(FieldNames.Album));
        return new TrackFacts
        {
            Title = Cut(tags.First(FieldNames.Title)) ?? Cut(Path.GetFileNameWithoutExtension(path))!,
            Artist = artist,
            Disc = tags.Number(FieldNames.Disc),
            Number = tags.Number(FieldNames.Track),
            Album = album ?? Cut(Path.GetFileName(folder))!,
            AlbumArtist = albumArtist,
            AlbumIdentity = album is null ? "folder\n" + folder : $"album\n{albumArtist.ToUpperInvariant()}\n{album.ToUpperInvariant()}",
            Year = tags.First(FieldNames.Year) is { Length: >= 4 } year ? year[..4] : null,
            Genre = Cut(tags.First(FieldNames.Genre)),
        };
    }

    private static string? Cut(string? text) => text is null ? null : WellFormedText.From(text, Limits.MaxName);
}
