using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Runs;
using Wergamon.App.Sets;
using Wergamon.App.Tracks;
using Wergamon.Core.Sticks;
using Wergamon.Devices.Drives;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Deliver.Front;

/// <summary>What can be made, what is kept in step, what is to go out, and the discs that were burned.</summary>
public sealed class IndexModel(
    DeliveryStore store, NewDeliveries deliveries, OriginalsDownload originals, KnownSticks sticks, BurnerBay bay, LibraryQueries library,
    LibraryParts parts, MusicSets sets)
    : PageModel
{
    private const int DeliveriesShown = 20;

    private readonly Dictionary<long, (string Words, bool IsBad)> _outcomes = [];

    public IReadOnlyList<DeliveryWay> Ways { get; private set; } = [];

    public IReadOnlyList<DeliveryOverview> Deliveries { get; private set; } = [];

    public int AllDeliveries { get; private set; }

    /// <summary>The sticks that are known, with what is on them.</summary>
    public IReadOnlyList<KnownStick> Sticks { get; private set; } = [];

    public IReadOnlyList<DeviceDescription> Devices => sticks.Devices;

    public IReadOnlyList<RackDisc> Burned => bay.Written();

    [TempData]
    public string? Message { get; set; }

    public (string Words, bool IsBad) OutcomeOf(DeliveryOverview each) => _outcomes[each.Row.Id];

    /// <param name="all">True to list more than the latest.</param>
    public void OnGet(bool all, [FromServices] DeliveryOverviews overviews, [FromServices] DeliveryOutcomes outcomes)
    {
        Sticks = sticks.List();
        (Deliveries, AllDeliveries) = overviews.List(all ? int.MaxValue : DeliveriesShown);
        Ways = DeliveryWay.All(bay, Sticks.Count, Sticks.Count(stick => stick.IsThere));
        foreach (var each in Deliveries)
            _outcomes[each.Row.Id] = outcomes.Of(each);
    }

    /// <summary>What a stick needs: fetched by the page, since the whole stick is compared.</summary>
    public IActionResult OnGetStickState(long id, [FromServices] StickViews views, [FromServices] StickReading reading) =>
        views.View(id) is { } view
            ? Partial("_StickState", StickState.Of(view, view.Run is { State: RunState.Running } ? null : reading.Read(view)))
            : NotFound();

    /// <summary>Plans what picked tracks go out as.</summary>
    public IActionResult OnPostTracks(PickedTracks picked, DeliveryKind kind, long? stick, [FromServices] StickLists stickLists)
    {
        var (tracks, part) = picked.In(library, parts);
        if (kind != DeliveryKind.Stick)
            return New(kind, null, tracks);
        if (tracks.Count > 0)
            stickLists.AddPart(stick ?? 0, null, part ?? LibraryPart.OfTracks(tracks));
        return ToStick(stick);
    }

    /// <summary>Plans what a set goes out as, in its order.</summary>
    public IActionResult OnPostSet(long set, DeliveryKind kind, long? stick, [FromServices] StickLists stickLists)
    {
        if (kind == DeliveryKind.Stick)
        {
            stickLists.AddSet(stick ?? 0, set);
            return ToStick(stick);
        }

        return sets.View(set) is { } view
            ? New(
                kind, view.Set.Title,
                [.. view.Lines.Select(line => line.Track).Where(track => !track.IsGone).Select(track => track.TrackId)])
            : NotFound();
    }

    /// <summary>Remembers a stick.</summary>
    public IActionResult OnPostStick(string? place, string? title, string? device, [FromServices] MusicSticks added)
    {
        var (id, problem) = added.Add(place, title, device ?? "");
        Message = problem;
        return ToStick(id);
    }

    /// <summary>Sends the files of picked tracks as they are, numbered in their order, with a playlist.</summary>
    public Task<IActionResult> OnPostDownloadAsync(PickedTracks picked) => DownloadAsync(null, picked.In(library, parts).Tracks);

    /// <summary>The same for a set.</summary>
    public async Task<IActionResult> OnPostDownloadSetAsync(long set) =>
        sets.View(set) is { } view
            ? await DownloadAsync(view.Set.Title, [.. view.Lines.Where(line => !line.Track.IsMissing).Select(line => line.Track.TrackId)])
            : NotFound();

    public IActionResult OnPostThrowAway(string? key)
    {
        bay.ThrowAway(key ?? "");
        return RedirectToPage();
    }

    private RedirectResult ToStick(long? id) =>
        Redirect(
            id is { } known && store.Get(known) is { Kind: DeliveryKind.Stick } row
                ? DeliveryLabels.Address(row.Kind, row.Id)
                : "/deliver");

    private async Task<IActionResult> DownloadAsync(string? title, IReadOnlyList<long> tracks)
    {
        if (await originals.SendAsync(HttpContext, title, tracks))
            return new EmptyResult();
        Message = "None of these tracks has a file that is there.";
        return RedirectToPage();
    }

    private IActionResult New(DeliveryKind kind, string? title, IReadOnlyList<long> tracks)
    {
        if (deliveries.Create(kind, title, tracks) is { } address)
            return Redirect(address);
        Message = "No track was picked that is still in the library.";
        return RedirectToPage();
    }
}
