using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Library;

namespace Wergamon.Web.Pages.Library;

public sealed class FindModel(LibraryQueries library) : PageModel
{
    public string Typed { get; private set; } = "";

    public IReadOnlyList<TrackRow> Tracks { get; private set; } = [];

    public string Explanation => Typed.Length == 0
        ? "Type a word of a title, an artist or an album."
        : Tracks.Count == LibraryQueries.MostHits
            ? $"The first {LibraryQueries.MostHits} for “{Typed}”. More words find fewer."
            : $"Title, artist or album holds “{Typed}”.";

    public void OnGet(string? words)
    {
        Typed = words?.Trim() ?? "";
        Tracks = library.Find(Typed);
    }
}
