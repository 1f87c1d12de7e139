using Wergamon.Core.Tags;

namespace Wergamon.App.Library;

/// <summary>What a file's tags, or for want of them its name, say about its track and album.</summary>
internal sealed record TrackFacts(
    string Title, string Artist, int? Disc, int? Number, string Album, string AlbumArtist, string AlbumIdentity, string? Year, string? Genre)
{
    public static TrackFacts From(TagSet tags, string path)
    {
        var folder = Path.GetDirectoryName(path)!;
        var artist = tags.First(FieldNames.Artist) ?? tags.First(FieldNames.AlbumArtist) ?? "";
        bool isCompilation = tags.First(FieldNames.Compilation) == "1";
        var albumArtist = tags.First(FieldNames.AlbumArtist) ?? (isCompilation ? "Various" : artist);
        // Files without an album stay together by folder and are named after it.
        var album = tags.First(FieldNames.Album);
        return new TrackFacts(
            tags.First(FieldNames.Title) ?? Path.GetFileNameWithoutExtension(path),
            artist,
            tags.Number(FieldNames.Disc),
            tags.Number(FieldNames.Track),
            album ?? Path.GetFileName(folder),
            albumArtist,
            album is null ? "folder\n" + folder : $"album\n{albumArtist.ToUpperInvariant()}\n{album.ToUpperInvariant()}",
            tags.First(FieldNames.Year) is { Length: >= 4 } year ? year[..4] : null,
            tags.First(FieldNames.Genre));
    }
}
