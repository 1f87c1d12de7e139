using static Wergamon.Core.Tags.FieldNames;

namespace Wergamon.Core.Tags.Mapping;

/// <summary>The key of one field in each dialect; null where the dialect has none of its own and a user-defined one is taken.</summary>
/// <param name="Field">A name of <see cref="FieldNames"/>.</param>
/// <param name="Vorbis">Vorbis comment, which is also the key of user-defined fields elsewhere.</param>
/// <param name="Id3v23">Frame of ID3v2.3.</param>
/// <param name="Id3v24">Frame of ID3v2.4.</param>
/// <param name="Mp4">Item of the MP4 item list.</param>
/// <param name="Asf">Attribute of ASF; the first four stand in the content description.</param>
/// <param name="Ape">Key of APEv2.</param>
/// <param name="Info">Chunk of the RIFF INFO list.</param>
/// <param name="Aiff">Text chunk of AIFF.</param>
public sealed record FieldKeys(
    string Field, string Vorbis, string? Id3v23, string? Id3v24, string? Mp4, string? Asf, string? Ape, string? Info, string? Aiff);

/// <summary>
/// Where each dialect keeps each field: the one table from which readers, writers, their tests and docs/formats.md are made.
/// Sources: Vorbis I comment specification and the chapter extension of xiph.org; ID3v2.3.0, section 4; ID3v2.4.0 - Native Frames;
/// ID3v2 Chapter Frame Addendum 1.0; Advanced Systems Format specification, 3.10, and the attribute list of the Windows Media Format SDK;
/// Multimedia Programming Interface and Data Specifications 1.0 (INFO); Audio Interchange File Format 1.3. The MP4 item list, APEv2 (from
/// memory), TCMP, the sort frames in version 2.3 and what Vorbis comments hold beyond the minimal list are common practice, no source.
/// </summary>
public static class FieldMap
{
    /// <summary>Names of dialects in opaque fields.</summary>
    internal const string AsfDialect = "ASF", Id3v2Dialect = "ID3v2";

    /// <summary>One row a field, in the order in which people look for them.</summary>
    public static IReadOnlyList<FieldKeys> All { get; } =
    [
        // field, Vorbis comment, ID3v2.3, ID3v2.4, MP4, ASF, APEv2, INFO, AIFF
        new(Title,           "TITLE",            "TIT2", "TIT2", "©nam", "Title",                      "Title",        "INAM", "NAME"),
        new(Artist,          "ARTIST",           "TPE1", "TPE1", "©ART", "Author",                     "Artist",       "IART", "AUTH"),
        new(AlbumArtist,     "ALBUMARTIST",      "TPE2", "TPE2", "aART", "WM/AlbumArtist",             "Album Artist", null,   null),
        new(Album,           "ALBUM",            "TALB", "TALB", "©alb", "WM/AlbumTitle",              "Album",        "IPRD", null),
        new(Track,           "TRACKNUMBER",      "TRCK", "TRCK", "trkn", "WM/TrackNumber",             "Track",        "ITRK", null),
        new(TrackTotal,      "TRACKTOTAL",       "TRCK", "TRCK", "trkn", null,                         "Track",        null,   null),
        new(Disc,            "DISCNUMBER",       "TPOS", "TPOS", "disk", "WM/PartOfSet",               "Disc",         null,   null),
        new(DiscTotal,       "DISCTOTAL",        "TPOS", "TPOS", "disk", "WM/PartOfSet",               "Disc",         null,   null),
        new(Year,            "DATE",             "TYER", "TDRC", "©day", "WM/Year",                    "Year",         "ICRD", null),
        new(OriginalYear,    "ORIGINALDATE",     "TORY", "TDOR", null,   "WM/OriginalReleaseYear",     null,           null,   null),
        new(Genre,           "GENRE",            "TCON", "TCON", "©gen", "WM/Genre",                   "Genre",        "IGNR", null),
        new(Composer,        "COMPOSER",         "TCOM", "TCOM", "©wrt", "WM/Composer",                "Composer",     "IMUS", null),
        new(Lyricist,        "LYRICIST",         "TEXT", "TEXT", null,   "WM/Writer",                  null,           null,   null),
        new(Conductor,       "CONDUCTOR",        "TPE3", "TPE3", null,   "WM/Conductor",               "Conductor",    null,   null),
        new(Remixer,         "REMIXER",          "TPE4", "TPE4", null,   "WM/ModifiedBy",              "MixArtist",    null,   null),
        new(Comment,         "COMMENT",          "COMM", "COMM", "©cmt", "Description",                "Comment",      "ICMT", "ANNO"),
        new(Lyrics,          "LYRICS",           "USLT", "USLT", "©lyr", "WM/Lyrics",                  "Lyrics",       null,   null),
        new(TimedLyrics,     "SYNCEDLYRICS",     "SYLT", "SYLT", null,   null,                         null,           null,   null),
        new(Website,         "WEBSITE",          "WXXX", "WXXX", null,   null,                         null,           null,   null),
        new(Tempo,           "BPM",              "TBPM", "TBPM", "tmpo", "WM/BeatsPerMinute",          "BPM",          null,   null),
        new(Key,             "INITIALKEY",       "TKEY", "TKEY", null,   "WM/InitialKey",              null,           null,   null),
        new(Energy,          "ENERGY",           null,   null,   null,   null,                         null,           null,   null),
        new(FieldNames.Rating, "RATING",         "POPM", "POPM", "rate", "WM/SharedUserRating",        null,           null,   null),
        new(Compilation,     "COMPILATION",      "TCMP", "TCMP", "cpil", "WM/IsCompilation",           null,           null,   null),
        new(Chapters,        "CHAPTER001",       "CHAP", "CHAP", "chpl", "CHAPTERS",                   "CHAPTERS",     null,   null),
        new(Isrc,            "ISRC",             "TSRC", "TSRC", null,   "WM/ISRC",                    "ISRC",         null,   null),
        new(Copyright,       "COPYRIGHT",        "TCOP", "TCOP", "cprt", "Copyright",                  "Copyright",    "ICOP", "(c) "),
        new(Publisher,       "ORGANIZATION",     "TPUB", "TPUB", null,   "WM/Publisher",               "Publisher",    null,   null),
        new(Grouping,        "GROUPING",         "TIT1", "TIT1", "©grp", "WM/ContentGroupDescription", null,           null,   null),
        new(Subtitle,        "SUBTITLE",         "TIT3", "TIT3", null,   "WM/SubTitle",                "Subtitle",     null,   null),
        new(Mood,            "MOOD",             "TMOO", "TMOO", null,   "WM/Mood",                    null,           null,   null),
        new(Language,        "LANGUAGE",         "TLAN", "TLAN", null,   "WM/Language",                "Language",     null,   null),
        new(EncodedBy,       "ENCODED-BY",       "TENC", "TENC", "©too", "WM/EncodedBy",               "EncodedBy",    null,   null),
        new(EncoderSettings, "ENCODER_SETTINGS", "TSSE", "TSSE", null,   null,                         null,           null,   null),
        new(TitleSort,       "TITLESORT",        "TSOT", "TSOT", "sonm", "WM/TitleSortOrder",          null,           null,   null),
        new(ArtistSort,      "ARTISTSORT",       "TSOP", "TSOP", "soar", "WM/ArtistSortOrder",         null,           null,   null),
        new(AlbumSort,       "ALBUMSORT",        "TSOA", "TSOA", "soal", "WM/AlbumSortOrder",          null,           null,   null),
        new(AlbumArtistSort, "ALBUMARTISTSORT",  "TSO2", "TSO2", "soaa", null,                         null,           null,   null),
    ];

    /// <summary>Keys that mean the same as one of the table; read, never written.</summary>
    internal static IReadOnlyList<(string Key, string Field)> VorbisAliases { get; } =
    [
        ("ALBUM ARTIST", FieldNames.AlbumArtist),
        ("TOTALTRACKS", FieldNames.TrackTotal),
        ("TOTALDISCS", FieldNames.DiscTotal),
        ("YEAR", FieldNames.Year),
        ("DESCRIPTION", FieldNames.Comment),
        ("TEMPO", FieldNames.Tempo),
        ("KEY", FieldNames.Key),
    ];

    /// <summary>As <see cref="VorbisAliases"/>, of the INFO list.</summary>
    internal static IReadOnlyList<(string Key, string Field)> InfoAliases { get; } = [("IPRT", FieldNames.Track)];
}
