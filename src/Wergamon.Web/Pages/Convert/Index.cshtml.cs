using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Convert;
using Wergamon.App.Copies;
using Wergamon.App.Intake.Upload;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Convert;

/// <summary>What can be converted, what is kept up to date, and what was converted last.</summary>
public sealed class IndexModel(
    Plans plans, RunStore runs, RunLabels labels, LibraryQueries library, LibraryParts parts, FilePlans filePlans, UploadBatches batches)
    : PageModel
{
    private const int AlbumsShown = 5, RunsShown = 8, RunsLooked = 50, MaxNamed = 5;
    private const string FirstTarget = "pocket-player";

    private IReadOnlyList<Target> _targets = [];

    /// <summary>The latest.</summary>
    public IReadOnlyList<AlbumRow> Albums { get; private set; } = [];

    public IReadOnlyList<PlanRow> Plans { get; private set; } = [];

    public IReadOnlyList<DropFolder> Folders { get; private set; } = [];

    public IReadOnlyList<MirrorRow> Mirrors { get; private set; } = [];

    public IReadOnlyList<RunRow> Runs { get; private set; } = [];

    [TempData]
    public string? Message { get; set; }

    public void OnGet(
        [FromServices] AlbumSearch albums, [FromServices] MirrorStore mirrors, [FromServices] DropFolderStore folders,
        [FromServices] TargetChoices targets)
    {
        Albums = albums.Find("", AlbumsShown);
        Plans = plans.List();
        Mirrors = mirrors.List();
        (Folders, _targets) = (folders.List(), targets.All());
        Runs = [.. runs.List(RunsLooked).Where(run => labels.KindOf(run).Station == Station.Convert).Take(RunsShown)];
    }

    /// <summary>What a mirror needs: fetched by the page, since all of it is compared.</summary>
    public IActionResult OnGetMirrorState(long id, [FromServices] Mirrors all) =>
        all.View(id) is { } view ? Partial("_MirrorState", MirrorState.Of(view)) : NotFound();

    /// <summary>The target of a drop folder; the first one where its own is gone.</summary>
    public Target TargetOf(DropFolder folder) => _targets.FirstOrDefault(target => target.Key == folder.TargetKey) ?? _targets[0];

    /// <summary>"12 converted, waiting for files".</summary>
    public static string StateOf(DropFolder folder)
    {
        string?[] parts =
        [
            folder.Failed > 0 ? $"{folder.Failed:N0} failed" : null, folder.Running > 0 ? $"{folder.Running:N0} running" : null,
            folder.Done > 0 ? $"{folder.Done:N0} converted" : null,
            folder.IsPaused ? "paused" : folder.Running == 0 ? "waiting for files" : null,
        ];
        return string.Join(", ", parts.Where(part => part is not null));
    }

    public IActionResult OnPostCreate(string? title, PickedTracks picked)
    {
        var (tracks, part) = picked.In(library, parts);
        if (tracks.Count == 0)
        {
            Message = "No track was picked that is still in the library.";
            return RedirectToPage();
        }

        var named = string.IsNullOrWhiteSpace(title) ? picked.Album is { } album ? library.Album(album)?.Title : null : title;
        return Redirect($"/convert/{plans.Create(named ?? "Picked tracks", FirstTarget, tracks, part)}");
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
