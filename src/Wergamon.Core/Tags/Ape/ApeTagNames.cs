using System.Collections.Frozen;
using Wergamon.Core.Tags.VorbisComment;

namespace Wergamon.Core.Tags.Ape;

/// <summary>Keys of APE tags (APEv2, from memory; the keys of pictures are common practice, no source). Case does not tell them apart.</summary>
internal static class ApeTagNames
{
    private static readonly FrozenDictionary<string, string> Keys = new Dictionary<string, string>
    {
        [FieldNames.Title] = "Title",
        [FieldNames.Subtitle] = "Subtitle",
        [FieldNames.Artist] = "Artist",
        [FieldNames.AlbumArtist] = "Album Artist",
        [FieldNames.Album] = "Album",
        [FieldNames.Track] = "Track",
        [FieldNames.Disc] = "Disc",
        [FieldNames.Year] = "Year",
        [FieldNames.Genre] = "Genre",
        [FieldNames.Composer] = "Composer",
        [FieldNames.Conductor] = "Conductor",
        [FieldNames.Remixer] = "MixArtist",
        [FieldNames.Comment] = "Comment",
        [FieldNames.Lyrics] = "Lyrics",
        [FieldNames.Publisher] = "Publisher",
        [FieldNames.Copyright] = "Copyright",
        [FieldNames.Language] = "Language",
        [FieldNames.EncodedBy] = "EncodedBy",
        [FieldNames.Tempo] = "BPM",
        [FieldNames.Isrc] = "ISRC",
    }.ToFrozenDictionary(StringComparer.OrdinalIgnoreCase);

    private static readonly FrozenDictionary<string, string> Fields = Keys.ToFrozenDictionary(pair => pair.Value, pair => pair.Key, StringComparer.OrdinalIgnoreCase);

    private static readonly FrozenDictionary<PictureKind, string> PictureKeys = new Dictionary<PictureKind, string>
    {
        [PictureKind.Other] = "Other",
        [PictureKind.FileIcon] = "Png Icon",
        [PictureKind.OtherIcon] = "Icon",
        [PictureKind.Front] = "Front",
        [PictureKind.Back] = "Back",
        [PictureKind.Booklet] = "Leaflet",
        [PictureKind.Disc] = "Media",
        [PictureKind.LeadArtist] = "Lead",
        [PictureKind.Artist] = "Artist",
        [PictureKind.Conductor] = "Conductor",
        [PictureKind.Band] = "Band",
        [PictureKind.Composer] = "Composer",
        [PictureKind.Lyricist] = "Lyricist",
        [PictureKind.Location] = "Recording Location",
        [PictureKind.Recording] = "During Recording",
        [PictureKind.Performance] = "During Performance",
        [PictureKind.Video] = "Video Capture",
        [PictureKind.Fish] = "Fish",
        [PictureKind.Illustration] = "Illustration",
        [PictureKind.BandLogo] = "Band Logotype",
        [PictureKind.PublisherLogo] = "Publisher Logotype",
    }.ToFrozenDictionary();

    private const string PictureStart = "Cover Art (";

    public static string KeyOf(string field) => Keys.GetValueOrDefault(field) ?? VorbisCommentNames.ToKey(field);

    public static string FieldOf(string key) => Fields.GetValueOrDefault(key) ?? VorbisCommentNames.ToName(key);

    public static string KeyOf(PictureKind kind) => $"{PictureStart}{PictureKeys[kind]})";

    /// <summary>The kind of picture under a key; null for another key.</summary>
    public static PictureKind? KindOf(string key)
    {
        if (!key.StartsWith(PictureStart, StringComparison.OrdinalIgnoreCase))
            return null;
        foreach (var (kind, name) in PictureKeys)
        {
            if (key.AsSpan(PictureStart.Length).TrimEnd(')').Equals(name, StringComparison.OrdinalIgnoreCase))
                return kind;
        }

        return PictureKind.Other;
    }

    /// <summary>Two to 255 printable ASCII characters, and none of four reserved words.</summary>
    public static bool IsKey(string key) =>
        key.Length is >= 2 and <= 255 && key.All(c => c is >= ' ' and <= '~') && key.ToUpperInvariant() is not ("ID3" or "TAG" or "OGGS" or "MP+");
}
