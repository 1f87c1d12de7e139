using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Convert;
using Wergamon.App.Storage;
using Wergamon.App.Tags;
using Wergamon.App.Tracks;
using Wergamon.Core.Naming;
using Wergamon.Core.Tags;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Tags;

/// <summary>The sheet: fields as columns, files as rows.</summary>
public sealed class SheetModel(TagSheets sheets, LibraryQueries library, Plans plans, Settings settings) : SheetPageModel(sheets)
{
    private const string ColumnsKey = "tag-columns";
    private const int MaxColumns = 24;

    public override string Tab => "Sheet";

    public IReadOnlyList<SheetColumn> Columns { get; private set; } = [];

    /// <summary>Fields that can be columns: the known ones, and those that these files hold.</summary>
    public IReadOnlyList<string> Offered =>
        [
            .. FieldNames.All.Concat(Files.SelectMany(file => HeldBy(file.CopyId).Fields.Select(held => held.Name)))
                .Concat(Columns.Select(column => column.Name))
                .Distinct(StringComparer.OrdinalIgnoreCase)
        ];

    public void OnGet() => Columns = ReadColumns();

    /// <summary>All cells.</summary>
    public IActionResult OnGetData()
    {
        Columns = ReadColumns();
        return new JsonResult(new SheetData(
            [.. Columns],
            [.. Files.Select(file =>
            {
                var held = HeldBy(file.CopyId);
                var now = EditedOf(file.CopyId);
                return new SheetLine(
                    file.CopyId, Path.GetFileName(file.Path), [.. Columns.Select(column => FieldText.Join(now[column.Name]))],
                    [.. Columns.Select((column, i) => now[column.Name].SequenceEqual(held[column.Name]) ? -1 : i).Where(i => i >= 0)]);
            })]));
    }

    /// <summary>Takes new texts of cells and tells how many changes there are.</summary>
    public IActionResult OnPostCells([FromBody] CellChange[] cells)
    {
        Sheets.SetFields(
            Sheet.Id,
            cells.Where(cell => cell.Field is { Length: > 0 and <= 200 })
                .Select(cell => (cell.Id, cell.Field, FieldText.Split(cell.Field, cell.Text ?? "", HeldBy(cell.Id)[cell.Field]))));
        return Tally();
    }

    public IActionResult OnGetFacts(long copy)
    {
        if (library.Copy(copy) is not { } row)
            return NotFound();
        return Partial(
            "_FileFacts", new FileFacts(row, HeldBy(copy), EditedOf(copy), library.PicturesOf(copy), EditsOf(copy).ToList(), Sheet.Id));
    }

    public IActionResult OnPostColumns(string[] column, string? own)
    {
        var chosen = column.Append(own?.Trim() ?? "")
            .Where(name => name.Length is > 0 and <= 60)
            .Distinct(StringComparer.OrdinalIgnoreCase)
            .Take(MaxColumns)
            .ToArray();
        settings.Write(ColumnsKey, chosen, ListJson.Default.StringArray);
        return RedirectToPage();
    }

    public IActionResult OnPostDiscard()
    {
        Sheets.Discard(Sheet.Id);
        return RedirectToPage();
    }

    /// <summary>Plans copies in a format that holds tags well.</summary>
    public IActionResult OnPostPlan(string target)
    {
        var tracks = Files.Where(file => file.FileFormat == "wav").Select(file => file.TrackId).ToList();
        return Redirect($"/convert/{plans.Create(Sheet.Title, target == "aiff" ? "dj-stick" : "archive", tracks)}");
    }

    private JsonResult Tally()
    {
        var edits = Sheets.Edits(Sheet.Id);
        int files = edits.Select(edit => edit.CopyId).Distinct().Count();
        return new JsonResult(
            new SheetTally(
                edits.Count, edits.Count == 0 ? "No changes" : $"{Plural.Count(edits.Count, "change")} in {Plural.Count(files, "file")}",
                edits.Count == 0 ? "Review" : $"Review {Plural.Count(edits.Count, "change")}"));
    }

    private IReadOnlyList<SheetColumn> ReadColumns() =>
        [
            .. (
                settings.Read(ColumnsKey, ListJson.Default.StringArray) is { Length: > 0 } chosen
                    ? chosen
                    : SheetColumn.Usual).Select(SheetColumn.Of)
        ];
}

/// <param name="Field">Its name.</param>
/// <param name="Text">Its values in one line.</param>
public sealed record CellChange(long Id, string Field, string? Text);

/// <param name="Cells">The texts in the order of the columns.</param>
/// <param name="Changed">Columns whose text is not what the file holds.</param>
public sealed record SheetLine(long Id, string Name, string[] Cells, int[] Changed);

public sealed record SheetData(SheetColumn[] Columns, SheetLine[] Files);

public sealed record SheetTally(int Edits, string Words, string Button);

/// <summary>All that one file holds.</summary>
public sealed record FileFacts(
    CopyRow Copy, TagSet Held, TagSet Now, IReadOnlyList<CopyPicture> Pictures, IReadOnlyList<TagEditRow> Edits, long SheetId);
