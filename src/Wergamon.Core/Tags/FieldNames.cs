namespace Wergamon.Core.Tags;

/// <summary>Fields known by name. Any other name is carried through unchanged.</summary>
public static class FieldNames
{
    public const string Title = "title";
    public const string Artist = "artist";
    public const string AlbumArtist = "album artist";
    public const string Album = "album";
    public const string Track = "track";
    public const string TrackTotal = "track total";
    public const string Disc = "disc";
    public const string DiscTotal = "disc total";

    /// <summary>The year, or a longer date as ISO 8601 writes it (2021-06-12).</summary>
    public const string Year = "year";

    public const string OriginalYear = "original year";
    public const string Genre = "genre";
    public const string Composer = "composer";
    public const string Lyricist = "lyricist";
    public const string Conductor = "conductor";
    public const string Remixer = "remixer";
    public const string Comment = "comment";
    public const string Lyrics = "lyrics";

    /// <summary>Lines with their times: [01:23.45]words.</summary>
    public const string TimedLyrics = "timed lyrics";

    public const string Website = "website";
    public const string Tempo = "tempo";
    public const string Key = "key";
    public const string Energy = "energy";

    /// <summary>1 to 5; some programs write other scales, see <see cref="Wergamon.Core.Tags.Rating"/>.</summary>
    public const string Rating = "rating";

    public const string Compilation = "compilation";

    /// <summary>One value a chapter: 00:01:23.450 and its title.</summary>
    public const string Chapters = "chapters";

    public const string Isrc = "isrc";
    public const string Copyright = "copyright";
    public const string Publisher = "publisher";
    public const string Grouping = "grouping";
    public const string Subtitle = "subtitle";
    public const string Mood = "mood";
    public const string Language = "language";
    public const string EncodedBy = "encoded by";
    public const string EncoderSettings = "encoder settings";
    public const string TitleSort = "title sort";
    public const string ArtistSort = "artist sort";
    public const string AlbumSort = "album sort";
    public const string AlbumArtistSort = "album artist sort";

    /// <summary>All of them, in the order in which people look for them.</summary>
    public static IReadOnlyList<string> All { get; } = [.. Mapping.FieldMap.All.Select(row => row.Field)];
}
