using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Library.Scan;
using Wergamon.App.Storage;

namespace Wergamon.Web.Pages.Library;

public sealed class FoldersModel(MusicFolders folders, DemoMusic demo, AppOptions options) : PageModel
{
    public IReadOnlyList<MusicFolder> Folders { get; private set; } = [];

    public IReadOnlyList<FileProblem> Unreadable { get; private set; } = [];

    public IReadOnlyList<FileProblem> Damaged { get; private set; } = [];

    public IReadOnlyList<string> AllowedBases => options.AllowedBases;

    /// <summary>Whether the demo music is in the library; null when the application has none.</summary>
    public bool? HasDemo => demo.IsOffered ? demo.IsIn : null;

    public string? Typed { get; private set; }

    public string? Refusal { get; private set; }

    public void OnGet() => Load();

    public PartialViewResult OnGetList()
    {
        Load();
        return Partial("_FolderList", this);
    }

    public IActionResult OnPostAdd(string? path)
    {
        Refusal = folders.Add(path);
        if (Refusal is null)
            return RedirectToPage();
        Typed = path;
        Load();
        return Page();
    }

    /// <summary>Adds the demo music to the library or removes it.</summary>
    public IActionResult OnPostDemo(bool isIn) => Answer(isIn ? demo.PutIn() : demo.TakeOut());

    public IActionResult OnPostRescan(long id)
    {
        folders.Rescan(id);
        return RedirectToPage();
    }

    public IActionResult OnPostPause(long id, bool pause)
    {
        folders.SetPaused(id, pause);
        return RedirectToPage();
    }

    public IActionResult OnPostForget(long id) => Answer(folders.ForgetMissing(id));

    public IActionResult OnPostRemove(long id) => Answer(folders.Remove(id));

    /// <summary>Result of a scan, in words.</summary>
    public string WordsFor(MusicFolder folder)
    {
        if (!folder.IsThere)
            return "Folder missing; its details are kept";
        if (folder.IsScanning && !folder.IsPaused)
            return "Scanning";
        var parts = new List<string>();
        if (folder.IsPaused)
            parts.Add("Paused: not followed");
        if (folder.Missing > 0)
            parts.Add($"{folder.Missing:N0} missing");
        if (folder.Damaged > 0)
            parts.Add($"{folder.Damaged:N0} damaged");
        if (folder.Unreadable > 0)
            parts.Add($"{folder.Unreadable:N0} cannot be read");
        if (parts.Count == 0)
            parts.Add("All read");
        if (folder.New > 0)
            parts.Add($"{folder.New:N0} added in the last 24 hours");
        return string.Join(", ", parts);
    }

    private IActionResult Answer(string? refusal)
    {
        Refusal = refusal;
        if (refusal is null)
            return RedirectToPage();
        Load();
        return Page();
    }

    private void Load()
    {
        Folders = folders.List();
        Unreadable = folders.ListUnreadable();
        Damaged = folders.ListDamaged();
    }
}
