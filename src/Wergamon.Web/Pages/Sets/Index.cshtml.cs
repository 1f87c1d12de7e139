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

    /// <summary>Makes a set, of the picked tracks if it comes from a list.</summary>
    public IActionResult OnPostCreate(string? title, PickedTracks picked)
    {
        var (tracks, _) = picked.In(library, parts);
        var name = TitleOf(title);
        if (name.Length == 0)
            name = FreeTitle();
        if (store.Create(name) is not { } id)
        {
            Message = $"There is a set called “{name}” already.";
            return RedirectToPage();
        }

        if (tracks.Count > 0)
            sets.Add(id, tracks);
        return Redirect($"/sets/{id}");
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
