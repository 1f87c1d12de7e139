using System.Globalization;

namespace Wergamon.Core.Tags.Id3v2;

/// <summary>
/// The numbered genres of ID3v1 (id3.org: ID3v2.3.0, appendix A, 0 to 79; 80 to 191 are common practice, no source), which later
/// tags refer to by number.
/// </summary>
internal static class Id3v1Genres
{
    private static readonly string[] Names =
    [
        "Blues", "Classic Rock", "Country", "Dance", "Disco", "Funk", "Grunge", "Hip-Hop", "Jazz", "Metal",
        "New Age", "Oldies", "Other", "Pop", "R&B", "Rap", "Reggae", "Rock", "Techno", "Industrial",
        "Alternative", "Ska", "Death Metal", "Pranks", "Soundtrack", "Euro-Techno", "Ambient", "Trip-Hop", "Vocal", "Jazz+Funk",
        "Fusion", "Trance", "Classical", "Instrumental", "Acid", "House", "Game", "Sound Clip", "Gospel", "Noise",
        "AlternRock", "Bass", "Soul", "Punk", "Space", "Meditative", "Instrumental Pop", "Instrumental Rock", "Ethnic", "Gothic",
        "Darkwave", "Techno-Industrial", "Electronic", "Pop-Folk", "Eurodance", "Dream", "Southern Rock", "Comedy", "Cult", "Gangsta",
        "Top 40", "Christian Rap", "Pop/Funk", "Jungle", "Native American", "Cabaret", "New Wave", "Psychadelic", "Rave", "Showtunes",
        "Trailer", "Lo-Fi", "Tribal", "Acid Punk", "Acid Jazz", "Polka", "Retro", "Musical", "Rock & Roll", "Hard Rock",
        "Folk", "Folk-Rock", "National Folk", "Swing", "Fast-Fusion", "Bebop", "Latin", "Revival", "Celtic", "Bluegrass",
        "Avantgarde", "Gothic Rock", "Progressive Rock", "Psychedelic Rock", "Symphonic Rock", "Slow Rock", "Big Band", "Chorus",
        "Easy Listening", "Acoustic",
        "Humour", "Speech", "Chanson", "Opera", "Chamber Music", "Sonata", "Symphony", "Booty Bass", "Primus", "Porn Groove",
        "Satire", "Slow Jam", "Club", "Tango", "Samba", "Folklore", "Ballad", "Power Ballad", "Rhythmic Soul", "Freestyle",
        "Duet", "Punk Rock", "Drum Solo", "A Cappella", "Euro-House", "Dance Hall", "Goa", "Drum & Bass", "Club-House", "Hardcore",
        "Terror", "Indie", "BritPop", "Afro-Punk", "Polsk Punk", "Beat", "Christian Gangsta Rap", "Heavy Metal", "Black Metal", "Crossover",
        "Contemporary Christian", "Christian Rock", "Merengue", "Salsa", "Thrash Metal", "Anime", "JPop", "Synthpop", "Abstract",
        "Art Rock",
        "Baroque", "Bhangra", "Big Beat", "Breakbeat", "Chillout", "Downtempo", "Dub", "EBM", "Eclectic", "Electro",
        "Electroclash", "Emo", "Experimental", "Garage", "Global", "IDM", "Illbient", "Industro-Goth", "Jam Band", "Krautrock",
        "Leftfield", "Lounge", "Math Rock", "New Romantic", "Nu-Breakz", "Post-Punk", "Post-Rock", "Psytrance", "Shoegaze", "Space Rock",
        "Trop Rock", "World Music", "Neoclassical", "Audiobook", "Audio Theatre", "Neue Deutsche Welle", "Podcast", "Indie Rock", "G-Funk",
        "Dubstep",
        "Garage Rock", "Psybient",
    ];

    public static string? ByNumber(int number) => number >= 0 && number < Names.Length ? Names[number] : null;

    /// <summary>The number of a genre; null for one that has none.</summary>
    public static byte? NumberOf(string? name)
    {
        int number = Array.FindIndex(Names, each => each.Equals(name, StringComparison.OrdinalIgnoreCase));
        return number < 0 ? null : (byte)number;
    }

    /// <summary>
    /// "17", "(17)" and chains like "(17)(39)" name genres by number, "(RX)" and "(CR)" by letters (ID3v2.3.0, section 4.2.1, TCON);
    /// "(17)Hard" refines one, "((x" is an escaped "(x".
    /// </summary>
    public static IEnumerable<string> Resolve(string value)
    {
        if (ByReference(value) is { } bare)
        {
            yield return bare;
            yield break;
        }

        int at = 0;
        while (at < value.Length && value[at] == '(' && value.IndexOf(')', at) is var end and > 0
            && ByReference(value.AsSpan(at + 1, end - at - 1)) is { } name)
        {
            if (end + 1 == value.Length || value[end + 1] == '(')
                yield return name;
            at = end + 1;
        }

        if (at == value.Length && at > 0)
            yield break;
        var rest = value[at..];
        yield return rest.StartsWith("((", StringComparison.Ordinal) ? rest[1..] : rest;
    }

    private static string? ByReference(ReadOnlySpan<char> reference) => reference switch
    {
        "RX" => "Remix",
        "CR" => "Cover",
        _ => int.TryParse(reference, NumberStyles.None, CultureInfo.InvariantCulture, out int number) ? ByNumber(number) : null,
    };

    /// <summary>Escapes text that would read as a reference.</summary>
    public static string Escape(string genre) => genre.StartsWith('(') ? "(" + genre : genre;
}
