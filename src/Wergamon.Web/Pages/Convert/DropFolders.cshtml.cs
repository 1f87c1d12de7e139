using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Convert;
using Wergamon.App.Library;
using Wergamon.Core.Planning;

namespace Wergamon.Web.Pages.Convert;

/// <summary>Folders in which whatever is put is converted.</summary>
public sealed class DropFoldersModel(DropFolderStore store, TargetChoices targets) : PageModel
{
    public IReadOnlyList<DropFolder> Folders { get; private set; } = [];

    public IReadOnlyList<Target> Targets { get; private set; } = [];

    /// <summary>Why a folder was refused, and what was typed.</summary>
    [TempData]
    public string? Refusal { get; set; }

    [TempData]
    public string? TypedPath { get; set; }

    [TempData]
    public string? TypedOutput { get; set; }

    public void OnGet() => Load();

    public PartialViewResult OnGetList()
    {
        Load();
        return Partial("_DropFolders", this);
    }

    public IActionResult OnPostAdd(string? path, string? target, string? output, bool takesOriginals)
    {
        Refusal = store.Add(path, targets.Get(target).Key, output, takesOriginals);
        if (Refusal is not null)
            (TypedPath, TypedOutput) = (path, output);
        return RedirectToPage();
    }

    public IActionResult OnPostPause(long id, bool paused)
    {
        store.SetPaused(id, paused);
        return RedirectToPage();
    }

    public IActionResult OnPostRetry(long id)
    {
        store.Retry(id);
        return RedirectToPage();
    }

    public IActionResult OnPostRemove(long id)
    {
        store.Remove(id);
        return RedirectToPage();
    }

    private void Load() => (Folders, Targets) = (store.List(), targets.All());
}
