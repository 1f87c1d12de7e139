using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Convert;
using Wergamon.App.Intake.Upload;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.Core.Naming;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Convert;

public sealed class IndexModel(
    Plans plans, MirrorStore mirrors, RunStore runs, LibraryQueries library, LibraryParts parts, FilePlans filePlans, UploadBatches batches)
    : PageModel
{
    private const int RunsShown = 50, MaxNamed = 5;
    private const string FirstTarget = "pocket-player";

    public IReadOnlyList<PlanRow> Plans { get; private set; } = [];

    public IReadOnlyList<MirrorRow> Mirrors { get; private set; } = [];

    public IReadOnlyList<RunRow> Runs { get; private set; } = [];

    [TempData]
    public string? Message { get; set; }

    public void OnGet()
    {
        Plans = plans.List();
        Mirrors = mirrors.List();
        Runs = runs.List(RunsShown);
    }

    public IActionResult OnPostCreate(string? title, PickedTracks picked)
    {
        var (tracks, part) = picked.In(library, parts);
        if (tracks.Count == 0)
        {
            Message = "No track was picked that is still in the library.";
            return RedirectToPage();
        }

        return Redirect($"/convert/{plans.Create(string.IsNullOrWhiteSpace(title) ? "Picked tracks" : title, FirstTarget, tracks, part)}");
    }

    /// <summary>Plans files that were dropped here and have been uploaded.</summary>
    public async Task<IActionResult> OnPostFilesAsync(long batch)
    {
        if (batches.PathOf(batch) is not { } folder)
        {
            Message = "These files no longer exist. Drop them again.";
            return RedirectToPage();
        }

        var (plan, unreadable) = await filePlans.CreateAsync(folder, FirstTarget, HttpContext.RequestAborted);
        if (unreadable.Count > 0)
            Message = $"{Plural.Count(unreadable.Count, "file")} cannot be read. "
                + $"{string.Join(" ", unreadable.Take(MaxNamed).Select(file => $"{Path.GetFileName(file.Path)}: {file.Reason}"))}";
        if (plan is not { } id)
        {
            Message ??= "There was no music among these files.";
            return RedirectToPage();
        }

        batches.SetPlan(batch, id);
        return Redirect($"/convert/{id}");
    }

    public IActionResult OnPostDelete(long id)
    {
        plans.Delete(id);
        return RedirectToPage();
    }
}
