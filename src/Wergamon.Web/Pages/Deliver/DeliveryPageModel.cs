using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.App.Runs;
using Wergamon.Core.Playlists;
using Wergamon.Devices.Burners;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Deliver;

/// <summary>What the pages of all kinds of deliveries have in common: the order of tracks, the burner, the run.</summary>
public abstract class DeliveryPageModel(DeliveryPageParts parts) : PageModel
{
    public BurnerBay Bay => parts.Bay;

    protected DeliveryStore Store => parts.Store;

    protected RunStore Runs => parts.Runs;

    protected RunScheduler Scheduler => parts.Scheduler;

    /// <summary>What is shown.</summary>
    public abstract DeliveryRow Row { get; }

    /// <summary>The address of the page.</summary>
    public string Here => DeliveryLabels.Address(Row.Kind, Row.Id);

    /// <summary>The newest run as it goes; null before the first.</summary>
    public RunView? Run { get; private set; }

    [TempData]
    public string? Message { get; set; }

    /// <summary>What of the last change was not taken.</summary>
    public string? Refusal { get; protected set; }

    public bool IsRunning => Run is { Run.State: RunState.Running };

    /// <summary>True while a run waits for the person.</summary>
    public bool IsStopped => Run is { Run.State: RunState.Stopped };

    /// <summary>True while a run is under way or waits, and nothing can be changed.</summary>
    public bool IsBusy => IsRunning || IsStopped;

    /// <summary>The question before the run is stopped; null to stop at once.</summary>
    public virtual string? StopQuestion => null;

    /// <summary>What is being done, in words.</summary>
    public string Doing => IsStopped ? "Stopped" : Run is not { Run.State: RunState.Running } view ? ""
        : Runs.Items(view.Run.Id)
                .Where(item => item.State == ItemState.Working)
                .Select(item => view.Working.GetValueOrDefault(item.Id)?.Doing ?? Scheduler.Describe(item).Doing)
                .Distinct()
                .ToList() is { Count: > 0 } doing
            ? string.Join(", ", doing)
        : "Waiting";

    /// <summary>The outcome of the newest run, and whether it is bad; null while there is none.</summary>
    public (string Words, bool IsBad)? Verdict => Run is { } view ? parts.Outcomes.Of(Row.Kind, view.Run) : null;

    public IActionResult OnGet(long id, long? at) => Load(id, at) ? Page() : NotFound();

    public IActionResult OnPostMove(long id, string? items, long? before, long? at) =>
        Arranged(id, at, order => Ordering.Move(order, Picked(items), before));

    public IActionResult OnPostShift(long id, string? items, int by, long? at) =>
        Arranged(id, at, order => Ordering.Shift(order, Picked(items), by));

    public IActionResult OnPostRemove(long id, string? items, long? at)
    {
        var picked = Picked(items);
        return Arranged(id, at, order => [.. order.Where(item => !picked.Contains(item))]);
    }

    public IActionResult OnPostInsert(long id, string burner, string disc) => Reload(id, Bay.Insert(burner, disc));

    public IActionResult OnPostEject(long id, string burner)
    {
        Bay.Eject(burner);
        return Reload(id, null);
    }

    public IActionResult OnPostClose(long id, string burner)
    {
        Bay.Close(burner);
        return Reload(id, null);
    }

    public IActionResult OnPostStop(long id)
    {
        if (Store.LatestRun(id) is { } run)
            Scheduler.Stop(run);
        return Reload(id, null);
    }

    public IActionResult OnPostContinue(long id)
    {
        if (Store.LatestRun(id) is { } run)
            Scheduler.Continue(run);
        return Reload(id, null);
    }

    /// <summary>Ends the stopped run, so that something else can be started.</summary>
    public IActionResult OnPostGiveUp(long id)
    {
        parts.Starts.GiveUp(id);
        return Reload(id, null);
    }

    public IActionResult OnPostDelete(long id) => parts.Starts.Remove(id) is { } problem ? Reload(id, problem) : Redirect("/deliver");

    /// <summary>Reorders the list, or removes some of it.</summary>
    protected virtual void Arrange(long id, Func<IReadOnlyList<long>, IReadOnlyList<long>> arrange) => Store.Arrange(id, arrange);

    /// <param name="burner">What writes the disc.</param>
    protected static string? QuestionBeforeSpoiling(IDiscBurner burner) =>
        burner.Disc is { IsRewritable: false } ? "If the disc is being written, it will be spoiled." : null;

    /// <summary>Loads a delivery of the page's kind with its newest run; false when there is none.</summary>
    protected abstract bool LoadView(long id, long? at);

    /// <summary>The newest run of what is shown.</summary>
    protected abstract RunRow? Latest { get; }

    protected IActionResult Shown(long id, long? at) => Load(id, at) ? Page() : NotFound();

    /// <param name="title">As typed; an empty one changes nothing.</param>
    protected void SetTitle(DeliveryRow row, string? title)
    {
        var given = DeliveryStore.TitleOf(title);
        if (given.Length > 0 && given != row.Title)
            Store.SetTitle(row.Id, given);
    }

    /// <param name="message">Why something was not done; null when it was.</param>
    protected RedirectToPageResult Reload(long id, string? message)
    {
        Message = message;
        return RedirectToPage(new { id });
    }

    /// <summary>The progress of the newest run with items of these kinds, from 0 to 1.</summary>
    protected double ShareOf(params string[] kinds)
    {
        if (Run is not { Run.State: RunState.Running or RunState.Stopped } view)
            return 0;
        var item = Runs.Items(view.Run.Id)
            .LastOrDefault(item => kinds.Contains(item.Kind) && item.State is ItemState.Working or ItemState.Done);
        return item is null ? 0 : item.State == ItemState.Done ? 1 : view.Working.GetValueOrDefault(item.Id)?.Share ?? 0;
    }

    private IActionResult Arranged(long id, long? at, Func<IReadOnlyList<long>, IReadOnlyList<long>> arrange)
    {
        Arrange(id, arrange);
        return Shown(id, at);
    }

    private static HashSet<long> Picked(string? items) => [.. PickedTracks.NumbersIn(items)];

    private bool Load(long id, long? at)
    {
        if (!LoadView(id, at))
            return false;
        Run = Latest is { } run ? parts.Progress.View(run.Id) : null;
        return true;
    }
}
