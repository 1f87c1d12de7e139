using System.Globalization;
using System.Text;

namespace Wergamon.Core.Discs;

/// <summary>
/// Writes cue sheets, in UTF-8 with CR LF at the end of each line. The format has no way to write a quotation mark inside
/// quotation marks, nor a line break: they become an apostrophe and a blank.
/// </summary>
public static class CueSheetWriter
{
    public static byte[] WriteBytes(CueSheet sheet) => Encoding.UTF8.GetBytes(Write(sheet));

    public static string Write(CueSheet sheet)
    {
        var text = new StringBuilder();
        foreach (var remark in sheet.Remarks)
            Line(text, 0, $"REM {OneLine(remark)}");
        Line(text, 0, "CATALOG", sheet.CatalogueNumber);
        Quoted(text, 0, "CDTEXTFILE", sheet.DiscTextFile);
        Quoted(text, 0, "TITLE", sheet.Title);
        Quoted(text, 0, "PERFORMER", sheet.Performer);
        Quoted(text, 0, "SONGWRITER", sheet.Songwriter);
        int file = -1, session = 1;
        foreach (var track in sheet.Tracks)
        {
            if (track.Session > session)
                Line(text, 0, Sessions.Remark(session = track.Session));
            WriteTrack(text, sheet, track, ref file);
        }

        return text.ToString();
    }

    private static void WriteTrack(StringBuilder text, CueSheet sheet, CueTrack track, ref int file)
    {
        if (track.Indexes.Count > 0)
            WriteFiles(text, sheet, track.Indexes[0].File, ref file);
        Line(text, 1, string.Create(CultureInfo.InvariantCulture, $"TRACK {track.Number:00} {track.Mode}"));
        foreach (var remark in track.Remarks)
            Line(text, 2, $"REM {OneLine(remark)}");
        if (track.Flags.Count > 0)
            Line(text, 2, "FLAGS", string.Join(' ', track.Flags));
        Line(text, 2, "ISRC", track.Isrc);
        Quoted(text, 2, "TITLE", track.Title);
        Quoted(text, 2, "PERFORMER", track.Performer);
        Quoted(text, 2, "SONGWRITER", track.Songwriter);
        Line(text, 2, "PREGAP", track.Pregap?.ToString());
        foreach (var index in track.Indexes)
        {
            WriteFiles(text, sheet, index.File, ref file);
            Line(text, 2, string.Create(CultureInfo.InvariantCulture, $"INDEX {index.Number:00} {index.Time}"));
        }

        Line(text, 2, "POSTGAP", track.Postgap?.ToString());
    }

    private static void WriteFiles(StringBuilder text, CueSheet sheet, int upTo, ref int written)
    {
        while (written < upTo)
        {
            var file = sheet.Files[++written];
            Line(text, 0, $"FILE \"{InQuotes(file.Name)}\" {file.Kind}");
        }
    }

    private static void Line(StringBuilder text, int depth, string command, string? value)
    {
        if (!string.IsNullOrEmpty(value))
            Line(text, depth, $"{command} {OneLine(value)}");
    }

    private static void Quoted(StringBuilder text, int depth, string command, string? value)
    {
        if (!string.IsNullOrEmpty(value))
            Line(text, depth, $"{command} \"{InQuotes(value)}\"");
    }

    private static void Line(StringBuilder text, int depth, string line) => text.Append(' ', 2 * depth).Append(line).Append("\r\n");

    private static string InQuotes(string value) => OneLine(value).Replace('"', '\'');

    private static string OneLine(string value) => value.ReplaceLineEndings(" ");
}
