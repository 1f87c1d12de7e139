using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.Filters;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Tags;
using Wergamon.Core.Tags;

namespace Wergamon.Web.Pages.Tags;

/// <summary>What the pages about one sheet share: its files, their tags, and the changes that are not written yet.</summary>
public abstract class SheetPageModel(TagSheets sheets) : PageModel
{
    private IReadOnlyDictionary<long, TagSet>? _tags;
    private IReadOnlyList<SheetFile>? _files;
    private IReadOnlyList<TagEditRow>? _edits;

    protected TagSheets Sheets => sheets;

    public TagSheetRow Sheet { get; private set; } = null!;

    public IReadOnlyList<SheetFile> Files => _files ??= sheets.Files(Sheet.Id);

    public IReadOnlyList<TagEditRow> Edits => _edits ??= sheets.Edits(Sheet.Id);

    /// <summary>The name of the tab that is shown.</summary>
    public abstract string Tab { get; }

    [TempData]
    public string? Message { get; set; }

    public override void OnPageHandlerExecuting(PageHandlerExecutingContext context)
    {
        if (long.TryParse(context.RouteData.Values["id"] as string, out long id) && sheets.Get(id) is { } sheet)
            Sheet = sheet;
        else
            context.Result = NotFound();
    }

    /// <summary>The tags that a file holds.</summary>
    public TagSet HeldBy(long copyId) => (_tags ??= sheets.TagsOf(Sheet.Id)).TryGetValue(copyId, out var tags) ? tags : new TagSet();

    /// <summary>The tags of a file with the changes made so far.</summary>
    public TagSet EditedOf(long copyId)
    {
        var tags = new TagSet();
        foreach (var field in HeldBy(copyId).Fields)
            tags.Set(field.Name, field.Values);
        foreach (var edit in EditsOf(copyId).Where(edit => edit.Kind == EditKind.Field))
            tags.Set(edit.Field, edit.Values);
        return tags;
    }

    public IEnumerable<TagEditRow> EditsOf(long copyId) => (_editsByCopy ??= Edits.ToLookup(edit => edit.CopyId))[copyId];

    private ILookup<long, TagEditRow>? _editsByCopy;
}
