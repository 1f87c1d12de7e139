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

    private static readonly FrozenDictionary<string, string> ToFrame =
        TextFrames.ToFrozenDictionary(pair => pair.Value, pair => pair.Key, StringComparer.OrdinalIgnoreCase);

    /// <summary>Three-letter identifiers of version 2.2 whose content is laid out as that of the frame named.</summary>
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
    }.ToFrozenDictionary();

    public static string? FieldOf(string frameId) => TextFrames.GetValueOrDefault(frameId);

    public static string? FrameOf(string field) => ToFrame.GetValueOrDefault(field);

    public static string? Modernise(string threeLetterId) => FromVersion2.GetValueOrDefault(threeLetterId);
}
