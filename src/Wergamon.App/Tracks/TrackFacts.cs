using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;

namespace Wergamon.App.Tracks;

/// <summary>Track and album of a file by its tags or, without tags, by its name.</summary>
internal sealed record TrackFacts(
    string Title, string Artist, int? Disc, int? Number, string Album, string AlbumArtist, string AlbumIdentity, string? Year,
    string? Genre)
{
    public static TrackFacts From(TagSet tags, string path)
    {
        var folder = Path.GetDirectoryName(path)!;
        var artist = Cut(tags.First(FieldNames.Artist) ?? tags.First(FieldNames.AlbumArtist)) ?? "";
        bool isCompilation = tags.First(FieldNames.Compilation) == "1";
        var albumArtist = Cut(tags.First(FieldNames.AlbumArtist)) ?? (isCompilation ? "Various" : artist);
        // Files without an album stay together by folder and are named after it.
        var album = Cut(tags.First(FieldNames.Album));
        return new TrackFacts(
            Cut(tags.First(FieldNames.Title)) ?? Cut(Path.GetFileNameWithoutExtension(path))!,
            artist,
            tags.Number(FieldNames.Disc),
            tags.Number(FieldNames.Track),
            album ?? Cut(Path.GetFileName(folder))!,
            albumArtist,
            album is null ? "folder\n" + folder : $"album\n{albumArtist.ToUpperInvariant()}\n{album.ToUpperInvariant()}",
            tags.First(FieldNames.Year) is { Length: >= 4 } year ? year[..4] : null,
            Cut(tags.First(FieldNames.Genre)));
    }

    private static string? Cut(string? text) => text is null ? null : WellFormedText.From(text, Limits.MaxName);
}
