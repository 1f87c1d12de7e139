using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Library.Removing;
using Wergamon.Core.Naming;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Library;

/// <summary>Files that were trashed or replaced, and can be restored.</summary>
public sealed class TrashModel(Trash trash, Wergamon.App.Library.Scan.MusicFolders folders, TimeProvider time) : PageModel
{
    public IReadOnlyList<TrashItem> Items { get; private set; } = [];

    public DateTimeOffset Now => time.GetUtcNow();

    public string? Message => TempData["Message"] as string;

    public void OnGet() => Items = trash.List();

    public IActionResult OnPostBack(long[] item)
    {
        var refusals = item.Select(trash.PutBack).OfType<string>().ToList();
        int back = item.Length - refusals.Count;
        TempData["Message"] = item.Length == 0
            ? "Nothing is ticked."
            : $"{Plural.Count(back, "file")} restored. {Labels.Reasons(refusals)}".TrimEnd();
        folders.RescanAll();
        return RedirectToPage();
    }

    public IActionResult OnPostRemove(long[] item)
    {
        foreach (long id in item)
            trash.Remove(id);
        TempData["Message"] = item.Length == 0 ? "Nothing is ticked." : $"{Plural.Count(item.Length, "file")} deleted.";
        return RedirectToPage();
    }
}
