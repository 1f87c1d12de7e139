using System.Collections.Frozen;

namespace Wergamon.Core.Tags.VorbisComment;

/// <summary>
/// Field names of Vorbis comments: the minimal list of the Vorbis I comment specification, and beyond it the names
/// that programs share (common practice, no source).
/// </summary>
internal static class VorbisCommentNames
{
    private static readonly FrozenDictionary<string, string> ToVorbis = new Dictionary<string, string>
    {
        [FieldNames.Title] = "TITLE",
        [FieldNames.Artist] = "ARTIST",
        [FieldNames.AlbumArtist] = "ALBUMARTIST",
        [FieldNames.Album] = "ALBUM",
        [FieldNames.Track] = "TRACKNUMBER",
        [FieldNames.TrackTotal] = "TRACKTOTAL",
        [FieldNames.Disc] = "DISCNUMBER",
        [FieldNames.DiscTotal] = "DISCTOTAL",
        [FieldNames.Year] = "DATE",
        [FieldNames.OriginalYear] = "ORIGINALDATE",
        [FieldNames.Genre] = "GENRE",
        [FieldNames.Composer] = "COMPOSER",
        [FieldNames.Lyricist] = "LYRICIST",
        [FieldNames.Conductor] = "CONDUCTOR",
        [FieldNames.Remixer] = "REMIXER",
        [FieldNames.Comment] = "COMMENT",
        [FieldNames.Lyrics] = "LYRICS",
        [FieldNames.Website] = "WEBSITE",
        [FieldNames.Tempo] = "BPM",
        [FieldNames.Key] = "INITIALKEY",
        [FieldNames.Compilation] = "COMPILATION",
        [FieldNames.Isrc] = "ISRC",
        [FieldNames.Copyright] = "COPYRIGHT",
        [FieldNames.Publisher] = "ORGANIZATION",
        [FieldNames.Grouping] = "GROUPING",
        [FieldNames.Subtitle] = "SUBTITLE",
        [FieldNames.Mood] = "MOOD",
        [FieldNames.Language] = "LANGUAGE",
        [FieldNames.EncodedBy] = "ENCODED-BY",
        [FieldNames.EncoderSettings] = "ENCODER_SETTINGS",
        [FieldNames.TitleSort] = "TITLESORT",
        [FieldNames.ArtistSort] = "ARTISTSORT",
        [FieldNames.AlbumSort] = "ALBUMSORT",
        [FieldNames.AlbumArtistSort] = "ALBUMARTISTSORT",
    }.ToFrozenDictionary(StringComparer.OrdinalIgnoreCase);

    /// <summary>Other keys that mean the same; read, never written.</summary>
    private static readonly (string Key, string Name)[] Aliases =
    [
        ("ALBUM ARTIST", FieldNames.AlbumArtist),
        ("TOTALTRACKS", FieldNames.TrackTotal),
        ("TOTALDISCS", FieldNames.DiscTotal),
        ("YEAR", FieldNames.Year),
        ("DESCRIPTION", FieldNames.Comment),
        ("TEMPO", FieldNames.Tempo),
        ("KEY", FieldNames.Key),
    ];

    private static readonly FrozenDictionary<string, string> FromVorbis = ToVorbis.Select(pair => (Key: pair.Value, Name: pair.Key))
        .Concat(Aliases)
        .ToFrozenDictionary(pair => pair.Key, pair => pair.Name, StringComparer.OrdinalIgnoreCase);

    public static string ToKey(string name) => ToVorbis.GetValueOrDefault(name, name);

    public static string ToName(string key) => FromVorbis.GetValueOrDefault(key, key);

    /// <summary>Keys are printable ASCII without the equals sign (Vorbis I comment specification, content vector format).</summary>
    public static bool IsKey(string key) => key.Length > 0 && key.All(c => c is >= ' ' and <= '}' and not '=');
}
