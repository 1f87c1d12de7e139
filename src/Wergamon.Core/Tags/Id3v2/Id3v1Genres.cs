using System.Globalization;

namespace Wergamon.Core.Tags.Id3v2;

/// <summary>The numbered genres of ID3v1 (id3.org: ID3v2.3.0, appendix A, 0 to 79), which later tags refer to by number.</summary>
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
    ];

    public static string? ByNumber(int number) => number >= 0 && number < Names.Length ? Names[number] : null;

    /// <summary>"(17)", "(17)Hard" and "17" name genres by number; "((x" is an escaped "(x".</summary>
    public static IEnumerable<string> Resolve(string value)
    {
        if (int.TryParse(value, NumberStyles.None, CultureInfo.InvariantCulture, out int bare))
        {
            yield return ByNumber(bare) ?? value;
            yield break;
        }

        int at = 0;
        while (at < value.Length && value[at] == '(' && value.IndexOf(')', at) is var end and > 0
            && int.TryParse(value.AsSpan(at + 1, end - at - 1), NumberStyles.None, CultureInfo.InvariantCulture, out int number)
            && ByNumber(number) is { } name)
        {
            if (end + 1 == value.Length || value[end + 1] == '(')
                yield return name;
            at = end + 1;
        }

        var rest = value[at..];
        yield return rest.StartsWith("((", StringComparison.Ordinal) ? rest[1..] : rest;
    }

    /// <summary>Escapes text that would read as a reference.</summary>
    public static string Escape(string genre) => genre.StartsWith('(') ? "(" + genre : genre;
}
