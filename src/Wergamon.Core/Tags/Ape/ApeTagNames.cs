using System.Collections.Frozen;
using Wergamon.Core.Tags.Mapping;
using Wergamon.Core.Tags.VorbisComment;

namespace Wergamon.Core.Tags.Ape;

/// <summary>Keys of APE tags; those of pictures are common practice, no source. Case does not tell them apart.</summary>
internal static class ApeTagNames
{
    private static readonly KeyMap Keys = new(row => row.Ape, StringComparer.OrdinalIgnoreCase);

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

    public static string KeyOf(string field) => Keys.KeyOf(field) ?? VorbisCommentNames.ToKey(field);

    public static string FieldOf(string key) => Keys.FieldOf(key) ?? VorbisCommentNames.ToName(key);

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
        key.Length is >= 2 and <= 255 && key.All(c => c is >= ' ' and <= '~')
            && key.ToUpperInvariant() is not ("ID3" or "TAG" or "OGGS" or "MP+");
}
