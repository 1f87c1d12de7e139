using System.Text.RegularExpressions;
using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Tags;
using Wergamon.Core.Tags;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Tags;

/// <summary>Lyrics, plain or with a time in front of each line: [01:23.45].</summary>
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
        (Copy, Title, Text) = (file.CopyId, tags.First(FieldNames.Title) ?? Path.GetFileName(file.Path), tags.First(FieldNames.Lyrics) ?? "");
    }

    public IActionResult OnPostSet(long copy, string? text)
    {
        var lyrics = (text ?? "").ReplaceLineEndings("\n").Trim('\n', ' ');
        Sheets.SetFields(Sheet.Id, [(copy, FieldNames.Lyrics, lyrics.Length == 0 ? [] : [lyrics])]);
        return Redirect($"/tags/{Sheet.Id}/lyrics?copy={copy}");
    }

    public static string Describe(string? lyrics)
    {
        if (string.IsNullOrEmpty(lyrics))
            return "";
        int lines = lyrics.Split('\n').Count(line => line.Trim().Length > 0);
        return Words.Count(lines, "line") + (Timed().IsMatch(lyrics) ? ", timed" : "");
    }

    [GeneratedRegex(@"^\[[0-9]{1,3}:[0-9]{2}([.:][0-9]{1,3})?\]", RegexOptions.Multiline)]
    private static partial Regex Timed();
}
