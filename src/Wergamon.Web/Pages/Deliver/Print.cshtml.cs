using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Deliver.Discs;
using Wergamon.App.Tracks;

namespace Wergamon.Web.Pages.Deliver;

/// <summary>Track list, front and tray card of a disc, to be printed at their true size.</summary>
public sealed class PrintModel(AudioDiscs discs, LibraryQueries library) : PageModel
{
    public AudioDiscView View { get; private set; } = null!;

    /// <summary>The cover if all tracks are of one album with a cover; otherwise null.</summary>
    public string? CoverHash { get; private set; }

    /// <summary>Columns of the track list on the back: a card has room for so many lines.</summary>
    public int BackColumns => View.Lines.Count > LinesOfBack ? 2 : 1;

    private const int LinesOfBack = 24;

    public IActionResult OnGet(long id)
    {
        if (discs.View(id) is not { } view)
            return NotFound();
        View = view;
        CoverHash = view.Lines.Select(line => line.Track?.AlbumId).Distinct().ToList() is [{ } album]
            ? library.Album(album)?.CoverHash
            : null;
        return Page();
    }
}
