using System.Collections.Frozen;
using Wergamon.Core.Tags.Mapping;

namespace Wergamon.Core.Tags.Id3v2;

/// <summary>Which frame carries which field, beyond the table of fields.</summary>
internal static class Id3v2Frames
{
    private static readonly KeyMap Frames23 = new(row => row.Id3v23, StringComparer.Ordinal),
        Frames24 = new(row => row.Id3v24, StringComparer.Ordinal);

    /// <summary>
    /// Text frames without a field of their own: the field has the name of the frame. TIPL and TMCL hold pairs and are not among them.
    /// </summary>
    private static readonly FrozenSet<string> OtherTextFrames = FrozenSet.Create(
        StringComparer.Ordinal,
        "TCAT", "TDEN", "TDES", "TDLY", "TDRL", "TDTG", "TFLT", "TGID", "TIME", "TKWD", "TLEN", "TMED", "TOAL", "TOFN", "TOLY", "TOPE",
        "TOWN", "TPRO", "TRDA", "TRSN", "TRSO", "TSIZ", "TSOC",
        "TSST");

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
    public static string? FieldOf(string frameId) => Frames24.FieldOf(frameId) ?? (OtherTextFrames.Contains(frameId) ? frameId : null);

    /// <param name="version">3 or 4.</param>
    public static string? FrameOf(string field, int version) =>
        (version == 4 ? Frames24 : Frames23).KeyOf(field) ?? (OtherTextFrames.Contains(field) ? field : null);

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
