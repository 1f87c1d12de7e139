using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Tags;
using Wergamon.App.Tracks;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Tags;

public sealed class IndexModel(TagSheets sheets, TagRuns tagRuns, UntidyFiles untidy, LibraryQueries library) : PageModel
{
    public IReadOnlyList<UntidyLine> Untidy { get; private set; } = [];

    [TempData]
    public string? Message { get; set; }

    public void OnGet() => Untidy = untidy.List();

    /// <summary>Opens the picked tracks, or all that were shown if none is picked, on a sheet.</summary>
    /// <param name="numbers">Picked in a long list: all numbers in one field, separated by commas.</param>
    public IActionResult OnPostCreate(
        string? title, [FromForm(Name = "track")] long[] picked, [FromForm(Name = "shown")] long[] shown, string? numbers)
    {
        var listed = PickedTracks.NumbersIn(numbers);
        var ids = listed.Count > 0 ? listed : picked.Length > 0 ? picked : shown;
        var copies = library.TracksById(ids).Where(track => !track.Master.IsMissing).Select(track => track.Master.Id).ToList();
        return Open(string.IsNullOrWhiteSpace(title) ? "Picked tracks" : title, copies);
    }

    /// <summary>Opens the files that share an untidiness.</summary>
    public IActionResult OnPostUntidy(UntidyKind kind) => Open(UntidyLabels.Of(kind), untidy.FilesOf(kind), UntidyLabels.TabFor(kind));

    /// <summary>Takes back what a run has written.</summary>
    public IActionResult OnPostUndo(long run)
    {
        if (tagRuns.Undo(run) is { } undo)
            return Redirect($"/runs/{undo}");
        Message = "There is nothing left to undo.";
        return RedirectToPage();
    }

    /// <summary>Takes back what was written to one file.</summary>
    public IActionResult OnPostUndoItem(long item)
    {
        if (tagRuns.UndoItem(item) is { } undo)
            return Redirect($"/runs/{undo}");
        Message = "There is nothing left to undo.";
        return RedirectToPage();
    }

    private IActionResult Open(string title, IReadOnlyList<long> copies, string tab = "")
    {
        if (copies.Count == 0)
        {
            Message = "No file was picked that is still there.";
            return RedirectToPage();
        }

        return Redirect($"/tags/{sheets.Create(title, copies)}{tab}");
    }
}
