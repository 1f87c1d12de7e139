using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Deliver;
using Wergamon.App.Library;
using Wergamon.App.Sets;
using Wergamon.Devices.Drives;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Deliver;

/// <summary>What is to go out, and the discs that were burned.</summary>
public sealed class IndexModel(DeliveryStore store, AudioDiscs discs, DataDiscs dataDiscs, BurnerBay bay, LibraryQueries library, LibraryParts parts, MusicSets sets) : PageModel
{
    public IReadOnlyList<DeliveryRow> Deliveries { get; private set; } = [];

    public IReadOnlyList<RackDisc> Burned => bay.Written();

    [TempData]
    public string? Message { get; set; }

    public void OnGet() => Deliveries = store.List();

    /// <summary>Plans what picked tracks go out as.</summary>
    public IActionResult OnPostTracks(PickedTracks picked, DeliveryKind kind) => New(kind, null, picked.In(library, parts).Tracks);

    /// <summary>Plans what a set goes out as, in its order.</summary>
    public IActionResult OnPostSet(long set, DeliveryKind kind) =>
        sets.View(set) is { } view ? New(kind, view.Set.Title, [.. view.Lines.Select(line => line.Track).Where(track => !track.IsGone).Select(track => track.TrackId)]) : NotFound();

    public IActionResult OnPostThrowAway(string? key)
    {
        bay.ThrowAway(key ?? "");
        return RedirectToPage();
    }

    private IActionResult New(DeliveryKind kind, string? title, IReadOnlyList<long> tracks)
    {
        if (library.TracksById(tracks).Count > 0)
            return Redirect(DeliveryWords.Address(kind, kind == DeliveryKind.Data ? dataDiscs.Create(title, tracks) : discs.Create(title, tracks)));
        Message = "No track was picked that is still in the library.";
        return RedirectToPage();
    }
}
