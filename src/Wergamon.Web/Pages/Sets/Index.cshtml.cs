using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Library;
using Wergamon.App.Sets;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Sets;

/// <summary>All sets, and where new ones are made.</summary>
public sealed class IndexModel(SetStore store, MusicSets sets, LibraryQueries library, LibraryParts parts) : PageModel
{
    private const int MaxTitle = 120;

    public IReadOnlyList<SetRow> Sets { get; private set; } = [];

    [TempData]
    public string? Message { get; set; }

    public void OnGet() => Sets = store.List();

    public IActionResult OnPostCreate(string? title)
    {
        var name = TitleOf(title);
        if (store.Create(name.Length == 0 ? FreeTitle() : name) is { } id)
            return Redirect($"/sets/{id}");
        Message = $"There is a set called “{name}” already.";
        return RedirectToPage();
    }

    /// <summary>Makes a set of the picked tracks; its title is chosen later.</summary>
    public IActionResult OnPostNew(PickedTracks picked)
    {
        var (tracks, _) = picked.In(library, parts);
        if (tracks.Count > 0 && store.Create(FreeTitle()) is { } id)
        {
            sets.Add(id, tracks);
            return Redirect($"/sets/{id}");
        }

        Message = "No track was picked that is still in the library.";
        return RedirectToPage();
    }

    internal static string TitleOf(string? typed)
    {
        var title = (typed ?? "").ReplaceLineEndings(" ").Trim();
        return title.Length <= MaxTitle ? title : title[..MaxTitle].TrimEnd();
    }

    private string FreeTitle()
    {
        var taken = store.List().Select(set => set.Title).ToHashSet(StringComparer.OrdinalIgnoreCase);
        return Enumerable.Range(1, taken.Count + 1).Select(number => number == 1 ? "New set" : $"New set {number}").First(title => !taken.Contains(title));
    }
}
