using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Tags;
using Wergamon.App.Tracks;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;

namespace Wergamon.Web.Pages.Tags;

/// <summary>One change, old beside new.</summary>
public sealed record ReviewLine(TagEditRow Edit, string Label, string Old, string New);

/// <param name="Lost">Changed fields that the format of the file has no place for.</param>
/// <param name="IsDamaged">Not everything in the file can be read.</param>
public sealed record ReviewFile(string Path, string Format, IReadOnlyList<string> Lost, bool IsDamaged);

/// <summary>Everything that would be written, file by file.</summary>
public sealed class ReviewModel(TagSheets sheets, TagRuns tagRuns, LibraryQueries library) : SheetPageModel(sheets)
{
    private const int FilesShown = 100;

    public override string Tab => "Review";

    public TagSettings Settings { get; private set; } = new();

    public IReadOnlyList<(ReviewFile File, IReadOnlyList<ReviewLine> Lines)> Shown { get; private set; } = [];

    public int PageNumber { get; private set; }

    public int Pages { get; private set; }

    public int Writing => Edits.Count(edit => !edit.IsLeftOut);

    public int WritingFiles => Edits.Where(edit => !edit.IsLeftOut).Select(edit => edit.CopyId).Distinct().Count();

    public int LeftOut => Edits.Count(edit => edit.IsLeftOut);

    public void OnGet(int at = 0)
    {
        Settings = tagRuns.Settings;
        Damaged = Sheets.Damaged(Sheet.Id);
        var files = Files.Where(file => EditsOf(file.CopyId).Any()).ToList();
        Pages = (files.Count + FilesShown - 1) / FilesShown;
        PageNumber = Math.Clamp(at, 0, Math.Max(0, Pages - 1));
        Shown = [
            .. files.Skip(PageNumber * FilesShown)
                .Take(FilesShown)
                .Select(file => (Describe(file), (IReadOnlyList<ReviewLine>)[.. EditsOf(file.CopyId).Select(edit => LineOf(file, edit))]))
        ];
    }

    public IActionResult OnPostLeaveOut(long copy, EditKind kind, string? field, bool @out, int at = 0)
    {
        Sheets.LeaveOut(Sheet.Id, copy, kind, field ?? "", @out);
        return RedirectToPage(new { at });
    }

    /// <summary>Tells whether files have changed since they were reviewed.</summary>
    public string State => Sheets.StateOf(Sheet.Id);

    /// <summary>Files of which not everything can be read: they are written only if the person agrees.</summary>
    public IReadOnlySet<long> Damaged { get; private set; } = new HashSet<long>();

    public IActionResult OnPostWrite(int? id3v2, bool keepsTime, bool allCopies, string? state, bool dropsUnreadable)
    {
        tagRuns.Save(new TagSettings(id3v2 is 3 or 4 ? id3v2 : null, keepsTime));
        if (tagRuns.Write(Sheet.Id, allCopies, state, dropsUnreadable) is { } run)
            return Redirect($"/runs/{run}");
        Message = state is not null && state != State
            ? "Files or changes on this sheet are no longer those that you reviewed. Nothing was written. Review them again."
            : "There is nothing to write.";
        return RedirectToPage();
    }

    private ReviewFile Describe(SheetFile file)
    {
        var dialect = (FileFormats.Find(file.FileFormat) as TaggedFormat)?.Dialect;
        var fields = EditsOf(file.CopyId).Where(edit => edit.Kind == EditKind.Field && edit.Values.Count > 0);
        return new ReviewFile(
            file.Path, file.CodecName,
            dialect is null
                ? ["tags that can be changed"]
                : [.. fields.Where(edit => !dialect.CanHold(new TagField(edit.Field, edit.Values))).Select(edit => edit.Field)],
            Damaged.Contains(file.CopyId));
    }

    private ReviewLine LineOf(SheetFile file, TagEditRow edit) => edit.Kind switch
    {
        EditKind.Field =>
            new ReviewLine(
                edit, SheetColumn.LabelOf(edit.Field), FieldText.Join(HeldBy(file.CopyId)[edit.Field]), FieldText.Join(edit.Values)),
        EditKind.Pictures =>
            new ReviewLine(
                edit, "Pictures", InWords(library.PicturesOf(file.CopyId).Select(picture => picture.Kind)),
                InWords(edit.Pictures.Select(picture => picture.Kind))),
        _ => new ReviewLine(edit, "File name", NameBelow(file.Path, edit.Value), NameBelow(edit.Value, file.Path)),
    };

    private static string InWords(IEnumerable<PictureKind> kinds) => string.Join(", ", kinds.Select(PictureLabels.Of));

    /// <summary>The path from the first folder on that differs.</summary>
    private static string NameBelow(string path, string other)
    {
        var folder = System.IO.Path.GetDirectoryName(path);
        while (folder is not null && !other.StartsWith(folder + "/", StringComparison.Ordinal))
            folder = System.IO.Path.GetDirectoryName(folder);
        return folder is null ? path : path[(folder.Length + 1)..];
    }
}
