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

    /// <param name="agreed">True after the person has agreed to lose what the originals hold more than the copies.</param>
    public IActionResult OnPostAdd(string? path, string? target, string? output, bool takesOriginals, bool agreed)
    {
        var chosen = targets.Get(target);
        Refusal = takesOriginals && chosen.IsLossy && !agreed
            ? $"{chosen.Encoder.Summary} throws detail away that does not come back. Tick that the originals may go nevertheless, or let them stay."
            : store.Add(path, chosen.Key, output, takesOriginals);
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
