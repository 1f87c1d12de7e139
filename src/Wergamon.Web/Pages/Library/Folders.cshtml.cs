using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App;
using Wergamon.App.Library;

namespace Wergamon.Web.Pages.Library;

public sealed class FoldersModel(MusicFolders folders, AppOptions options) : PageModel
{
    public IReadOnlyList<MusicFolder> Folders { get; private set; } = [];

    public IReadOnlyList<UnreadableFile> Unreadable { get; private set; } = [];

    public IReadOnlyList<string> AllowedBases => options.AllowedBases;

    public string? Typed { get; private set; }

    public string? Refusal { get; private set; }

    public void OnGet() => Load();

    public PartialViewResult OnGetList()
    {
        Load();
        return Partial("Library/_FolderList", this);
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

    public IActionResult OnPostRescan(long id)
    {
        folders.Rescan(id);
        return RedirectToPage();
    }

    /// <summary>What a scan found, in words.</summary>
    public string WordsFor(MusicFolder folder)
    {
        if (folder.IsScanning)
            return "Scanning";
        var parts = new List<string>();
        if (folder.Missing > 0)
            parts.Add($"{folder.Missing:N0} missing");
        if (folder.Damaged > 0)
            parts.Add($"{folder.Damaged:N0} damaged");
        if (folder.Unreadable > 0)
            parts.Add($"{folder.Unreadable:N0} cannot be read");
        return parts.Count == 0 ? "All read" : string.Join(", ", parts);
    }

    private void Load()
    {
        Folders = folders.List();
        Unreadable = folders.ListUnreadable();
    }
}
