using System.Globalization;
using System.Security.Cryptography;
using System.Text;

namespace Wergamon.Core.Discs;

/// <summary>
/// The two openly published IDs by which catalogues know a disc, both computed from its table of contents. Discs with
/// the same table have the same IDs.
/// </summary>
public static class DiscId
{
    private const int TableEntries = 100;

    /// <summary>
    /// The checksum ID of 8 hex digits: sum of the digits of all track starts in seconds modulo 255, length in seconds,
    /// number of tracks. Data tracks count.
    /// </summary>
    public static string Checksum(TableOfContents toc)
    {
        int sum = toc.Tracks.Sum(track => DigitSum(SecondsOf(track.Start)));
        int length = SecondsOf(toc.LeadOut) - SecondsOf(toc.Tracks[0].Start);
        return string.Create(CultureInfo.InvariantCulture, $"{(uint)(sum % 255) << 24 | (uint)length << 8 | (uint)toc.Tracks.Count:x8}");
    }

    /// <summary>
    /// The ID of 28 characters: SHA-1 over first and last track number, end of the sound and starts of all tracks in hex,
    /// in Base64 with '.', '_' and '-' for '+', '/' and '='. A data session after the audio is left out.
    /// </summary>
    public static string Sha1(TableOfContents toc)
    {
        var tracks = Sessions.First(toc);
        var starts = new int[TableEntries];
        starts[0] = (tracks.Count < toc.Tracks.Count ? toc.AudioEnd : toc.LeadOut) + AudioDisc.LeadInPauseSectors;
        foreach (var track in tracks)
            starts[track.Number] = track.Start + AudioDisc.LeadInPauseSectors;
        var text = new StringBuilder();
        text.Append(CultureInfo.InvariantCulture, $"{tracks[0].Number:X2}{tracks[^1].Number:X2}");
        foreach (int start in starts)
            text.Append(CultureInfo.InvariantCulture, $"{start:X8}");
#pragma warning disable CA5350 // The published ID is made with SHA-1; nothing secret hangs on it.
        var hash = SHA1.HashData(Encoding.ASCII.GetBytes(text.ToString()));
#pragma warning restore CA5350
        return Convert.ToBase64String(hash).Replace('+', '.').Replace('/', '_').Replace('=', '-');
    }

    private static int SecondsOf(int sector) => (sector + AudioDisc.LeadInPauseSectors) / AudioDisc.SectorsPerSecond;

    private static int DigitSum(int number)
    {
        int sum = 0;
        for (; number > 0; number /= 10)
            sum += number % 10;
        return sum;
    }
}
