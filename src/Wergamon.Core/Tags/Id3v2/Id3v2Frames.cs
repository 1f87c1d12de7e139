using System.Collections.Frozen;

namespace Wergamon.Core.Tags.Id3v2;

/// <summary>
/// Which frame carries which field (ID3v2.4.0 - Native Frames; ID3v2.3.0, section 4). TCMP and the sort frames in
/// version 2.3 are common practice, no source.
/// </summary>
internal static class Id3v2Frames
{
    private static readonly FrozenDictionary<string, string> TextFrames = new Dictionary<string, string>
    {
        ["TIT2"] = FieldNames.Title,
        ["TPE1"] = FieldNames.Artist,
        ["TPE2"] = FieldNames.AlbumArtist,
        ["TALB"] = FieldNames.Album,
        ["TCON"] = FieldNames.Genre,
        ["TCOM"] = FieldNames.Composer,
        ["TEXT"] = FieldNames.Lyricist,
        ["TPE3"] = FieldNames.Conductor,
        ["TPE4"] = FieldNames.Remixer,
        ["TBPM"] = FieldNames.Tempo,
        ["TKEY"] = FieldNames.Key,
        ["TCMP"] = FieldNames.Compilation,
        ["TSRC"] = FieldNames.Isrc,
        ["TCOP"] = FieldNames.Copyright,
        ["TPUB"] = FieldNames.Publisher,
        ["TIT1"] = FieldNames.Grouping,
        ["TIT3"] = FieldNames.Subtitle,
        ["TMOO"] = FieldNames.Mood,
        ["TLAN"] = FieldNames.Language,
        ["TENC"] = FieldNames.EncodedBy,
        ["TSSE"] = FieldNames.EncoderSettings,
        ["TSOT"] = FieldNames.TitleSort,
        ["TSOP"] = FieldNames.ArtistSort,
        ["TSOA"] = FieldNames.AlbumSort,
        ["TSO2"] = FieldNames.AlbumArtistSort,
    }.ToFrozenDictionary();

    /// <summary>Text frames without a field of their own: the field has the name of the frame. TIPL and TMCL hold pairs and are not among them.</summary>
    private static readonly FrozenSet<string> OtherTextFrames = FrozenSet.Create(
        StringComparer.Ordinal,
        "TCAT", "TDEN", "TDES", "TDLY", "TDRL", "TDTG", "TFLT", "TGID", "TIME", "TKWD", "TLEN", "TMED", "TOAL", "TOFN", "TOLY", "TOPE", "TOWN", "TPRO", "TRDA", "TRSN", "TRSO", "TSIZ", "TSOC",
        "TSST");

    private static readonly FrozenDictionary<string, string> ToFrame =
        TextFrames.ToFrozenDictionary(pair => pair.Value, pair => pair.Key, StringComparer.OrdinalIgnoreCase);

    /// <summary>
    /// Three-letter identifiers of version 2.2 whose content is laid out as that of the frame named (id3.org: id3v2-00,
    /// section 4, beside ID3v2.3.0, section 4).
    /// </summary>
    private static readonly FrozenDictionary<string, string> FromVersion2 = new Dictionary<string, string>
    {
        ["TT1"] = "TIT1",
        ["TT2"] = "TIT2",
        ["TT3"] = "TIT3",
        ["TP1"] = "TPE1",
        ["TP2"] = "TPE2",
        ["TP3"] = "TPE3",
        ["TP4"] = "TPE4",
        ["TAL"] = "TALB",
        ["TRK"] = "TRCK",
        ["TPA"] = "TPOS",
        ["TYE"] = "TYER",
        ["TDA"] = "TDAT",
        ["TCO"] = "TCON",
        ["TCM"] = "TCOM",
        ["TXT"] = "TEXT",
        ["TBP"] = "TBPM",
        ["TKE"] = "TKEY",
        ["TCP"] = "TCMP",
        ["TRC"] = "TSRC",
        ["TCR"] = "TCOP",
        ["TPB"] = "TPUB",
        ["TLA"] = "TLAN",
        ["TEN"] = "TENC",
        ["TSS"] = "TSSE",
        ["TXX"] = "TXXX",
        ["COM"] = "COMM",
        ["ULT"] = "USLT",
        ["WXX"] = "WXXX",
        ["PIC"] = "APIC",
        ["TST"] = "TSOT",
        ["TSP"] = "TSOP",
        ["TSA"] = "TSOA",
        ["TS2"] = "TSO2",
        ["TOR"] = "TORY",
        ["BUF"] = "RBUF",
        ["CNT"] = "PCNT",
        ["CRA"] = "AENC",
        ["EQU"] = "EQUA",
        ["ETC"] = "ETCO",
        ["GEO"] = "GEOB",
        ["IPL"] = "IPLS",
        ["MCI"] = "MCDI",
        ["MLL"] = "MLLT",
        ["POP"] = "POPM",
        ["REV"] = "RVRB",
        ["RVA"] = "RVAD",
        ["SLT"] = "SYLT",
        ["STC"] = "SYTC",
        ["TDY"] = "TDLY",
        ["TFT"] = "TFLT",
        ["TIM"] = "TIME",
        ["TLE"] = "TLEN",
        ["TMT"] = "TMED",
        ["TOA"] = "TOPE",
        ["TOF"] = "TOFN",
        ["TOL"] = "TOLY",
        ["TOT"] = "TOAL",
        ["TRD"] = "TRDA",
        ["TSI"] = "TSIZ",
        ["UFI"] = "UFID",
        ["WAF"] = "WOAF",
        ["WAR"] = "WOAR",
        ["WAS"] = "WOAS",
        ["WCM"] = "WCOM",
        ["WCP"] = "WCOP",
        ["WPB"] = "WPUB",
    }.ToFrozenDictionary();

    /// <summary>The field of a text frame; one without a field of its own is known by its identifier.</summary>
    public static string? FieldOf(string frameId) => TextFrames.GetValueOrDefault(frameId) ?? (OtherTextFrames.Contains(frameId) ? frameId : null);

    public static string? FrameOf(string field) => ToFrame.GetValueOrDefault(field) ?? (OtherTextFrames.Contains(field) ? field : null);

    /// <summary>The identifier of today for one of version 2.2; the same for one without a successor.</summary>
    public static string Modernise(string threeLetterId) => FromVersion2.GetValueOrDefault(threeLetterId, threeLetterId);

    public static bool IsId(ReadOnlySpan<char> id)
    {
        foreach (char c in id)
        {
            if (!char.IsAsciiLetterUpper(c) && !char.IsAsciiDigit(c))
                return false;
        }

        return true;
    }
}
