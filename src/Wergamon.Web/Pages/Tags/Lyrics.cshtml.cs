using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Tags;
using Wergamon.Core.Naming;
using Wergamon.Core.Tags;

namespace Wergamon.Web.Pages.Tags;

/// <summary>
/// Lyrics, plain or with a time in front of each line: [01:23.45]. Timed ones are written with their times, and as plain words for players
/// without.
/// </summary>
public sealed partial class LyricsModel(TagSheets sheets) : SheetPageModel(sheets)
{
    public override string Tab => "Lyrics";

    /// <summary>The file whose lyrics are shown.</summary>
    public long? Copy { get; private set; }

    public string Title { get; private set; } = "";

    public string Text { get; private set; } = "";

    public void OnGet(long? copy)
    {
        var file = Files.FirstOrDefault(each => each.CopyId == copy) ?? (Files.Count > 0 ? Files[0] : null);
        if (file is null)
            return;
        var tags = EditedOf(file.CopyId);
        (Copy, Title, Text) = (file.CopyId, tags.First(FieldNames.Title) ?? Path.GetFileName(file.Path), TextOf(tags));
    }

    public IActionResult OnPostSet(long copy, string? text)
    {
        var lyrics = (text ?? "").ReplaceLineEndings("\n").Trim('\n', ' ');
        var tags = EditedOf(copy);
        var lines = TimedLine.ParseTyped(lyrics);
        Sheets.SetFields(
            Sheet.Id,
            [
                (copy, FieldNames.TimedLyrics, Values(tags, FieldNames.TimedLyrics, lines is null ? "" : TimedLine.Format(lines))),
                (copy, FieldNames.Lyrics,
                    Values(tags, FieldNames.Lyrics, lines is null ? lyrics : string.Join('\n', lines.Select(line => line.Words))))
            ]);
        return Redirect($"/tags/{Sheet.Id}/lyrics?copy={copy}");
    }

    /// <summary>The lyrics of a file, with their times where it has them.</summary>
    public static string TextOf(TagSet tags) => tags.First(FieldNames.TimedLyrics) ?? tags.First(FieldNames.Lyrics) ?? "";

    /// <summary>The first value changed; those in further languages stay.</summary>
    private static IReadOnlyList<string> Values(TagSet tags, string field, string first) =>
        [.. first.Length == 0 ? [] : (string[])[first], .. tags[field].Skip(1)];

    public static string Describe(string lyrics)
    {
        if (lyrics.Length == 0)
            return "";
        int lines = lyrics.Split('\n').Count(line => line.Trim().Length > 0);
        return Plural.Count(lines, "line") + (Timed().IsMatch(lyrics) ? ", timed" : "");
    }

    [GeneratedRegex(@"^\[[0-9]{1,3}:[0-9]{2}([.:][0-9]{1,3})?\]", RegexOptions.Multiline)]
    private static partial Regex Timed();
}
