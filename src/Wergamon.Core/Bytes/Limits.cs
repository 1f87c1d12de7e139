namespace Wergamon.Core.Bytes;

/// <summary>
/// Limits for what comes from outside: generous for real music, small enough that no file or request costs memory or time.
/// </summary>
public static class Limits
{
    /// <summary>Longest tag or header that is read, in bytes.</summary>
    public const int MaxBlock = 64 << 20;

    /// <summary>Chunks, blocks, pages, objects, items or lines of one list in a file: more than any real one has.</summary>
    public const int MaxParts = 10_000;

    /// <summary>Boxes on the top level of a file of the MP4 family: two for each fragment of a stream that was recorded.</summary>
    public const int MaxTopBoxes = 100_000;

    /// <summary>Values, or frames, of the tags of one file. The rest is left out and reported.</summary>
    public const int MaxTagValues = 20_000;

    /// <summary>Cue points of one file.</summary>
    public const int MaxCuePoints = 1_000;

    /// <summary>Messages about the damage of one file.</summary>
    public const int MaxDamageMessages = 20;

    /// <summary>Longest playing time that a header may claim: a year, in seconds.</summary>
    public const long MaxSeconds = 366L * 24 * 3600;

    /// <summary>
    /// Longest value of a tag that is listed and searched, in UTF-16 units: several times the longest lyrics. The file keeps the whole.
    /// </summary>
    public const int MaxListedText = 1 << 16;

    /// <summary>
    /// All listed values of one file together, in UTF-16 units; values beyond it are listed by their first <see cref="MaxName"/>.
    /// </summary>
    public const int MaxListedTextOfFile = 1 << 20;

    /// <summary>Longest title, name or path part in lists, in UTF-16 units.</summary>
    public const int MaxName = 400;

    /// <summary>Longest text of a form or an address that is accepted, in UTF-16 units.</summary>
    public const int MaxTypedText = 1 << 20;

    /// <summary>Highest number of a track or a disc, and highest total.</summary>
    public const int MaxTrackNumber = 99_999;
}
