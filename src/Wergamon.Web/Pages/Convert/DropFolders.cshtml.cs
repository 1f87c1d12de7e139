using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Convert;
using Wergamon.App.Copies;
using Wergamon.Core.Planning;

namespace Wergamon.Web.Pages.Convert;

/// <summary>Folders whose files are converted automatically.</summary>
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

    /// <param name="agreed">True after the person has agreed to lose what only the originals hold.</param>
    public IActionResult OnPostAdd(string? path, string? target, string? output, bool takesOriginals, bool agreed)
    {
        Refusal = store.Add(path, targets.Get(target).Key, output, takesOriginals, agreed);
        if (Refusal is not null)
            (TypedPath, TypedOutput) = (path, output);
        return RedirectToPage();
    }

    /// <summary>Originals may be removed although the current target loses something of them.</summary>
    public IActionResult OnPostAgree(long id)
    {
        store.AgreeToLoss(id);
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

    /// <summary>True when originals are kept until the person agrees to what the target does now.</summary>
    public bool IsToAgree(DropFolder folder) => store.KeepsForWantOfConsent(folder);

    private void Load() => (Folders, Targets) = (store.List(), targets.All());
}
