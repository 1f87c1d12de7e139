using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App;
using Wergamon.App.Deliver;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.Core.Playlists;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Deliver;

/// <summary>An audio disc: its tracks against the blank, how it is made, the burner, and what becomes of it.</summary>
public sealed class DiscModel(DeliveryStore store, AudioDiscs discs, BurnerBay bay, RunStore runs, RunProgress progress, RunScheduler scheduler, AllowedPaths allowed, AppOptions options) : PageModel
{
    public AudioDiscView View { get; private set; } = null!;

    /// <summary>The chosen track; null for none.</summary>
    public AudioDiscLine? Place { get; private set; }

    /// <summary>The newest run as it goes; null before the first.</summary>
    public RunView? Run { get; private set; }

    public BurnerBay Bay => bay;

    public string UsualImageFolder => options.DeliveredFolder;

    [TempData]
    public string? Message { get; set; }

    /// <summary>What of the last change was not taken.</summary>
    public string? Refusal { get; private set; }

    public bool IsRunning => Run is { Run.State: RunState.Running };

    /// <summary>True while a run waits for the person.</summary>
    public bool IsStopped => Run is { Run.State: RunState.Stopped };

    /// <summary>The strip filled as far as the disc is written and read back.</summary>
    public DiscStrip Strip
    {
        get
        {
            int leadOut = View.Layout.LeadOut;
            return new DiscStrip(View.Layout.Tracks, View.Blank.Sectors, (int)(leadOut * ShareOf(BurnDiscHandler.ItemKind, BurnImageHandler.ItemKind)), (int)(leadOut * ShareOf(BurnCheckHandler.ItemKind)));
        }
    }

    /// <summary>What is being done, in words.</summary>
    public string Doing => Run is not { Run.State: RunState.Running } view ? ""
        : string.Join(", ", runs.Items(view.Run.Id).Where(item => item.State == ItemState.Working).Select(item => view.Working.GetValueOrDefault(item.Id)?.Doing ?? scheduler.Describe(item).Doing).Distinct());

    /// <summary>What came of the newest run, and whether it is bad news; null while there is nothing to say.</summary>
    public (string Words, bool IsBad)? Verdict
    {
        get
        {
            if (Run is not { Run: { State: RunState.Done } run })
                return null;
            var items = runs.Items(run.Id);
            if (items.Where(item => item.State == ItemState.Failed).OrderBy(item => item.Position).FirstOrDefault() is { } failed)
                return ($"{(failed.IsResult ? "" : $"“{failed.Title}” could not be made ready: ")}{failed.Failure}", true);
            var outcomes = items.Where(item => item.IsResult).Select(item => (item.Kind, scheduler.Describe(item).Outcome)).ToList();
            int copies = outcomes.Count(each => each.Kind == BurnDiscHandler.ItemKind);
            return (run.OutputFolder is { } folder ? $"The image was written and read back: every sample is equal. It is in {folder}."
                : outcomes.Exists(each => each.Outcome == BurnDiscHandler.Tried) ? "The trial went through; the disc is still blank."
                : $"{(copies == 1 ? "The disc was" : $"{copies} discs were")} burned{(outcomes.Exists(each => each.Kind == BurnCheckHandler.ItemKind) ? " and read back: every sample is equal" : "")}.", false);
        }
    }

    public IActionResult OnGet(long id, long? at) => Load(id, at) ? Page() : NotFound();

    public IActionResult OnPostMove(long id, string? items, long? before, long? at) => Arranged(id, at, order => Ordering.Move(order, Picked(items), before));

    public IActionResult OnPostShift(long id, string? items, int by, long? at) => Arranged(id, at, order => Ordering.Shift(order, Picked(items), by));

    public IActionResult OnPostRemove(long id, string? items, long? at)
    {
        var picked = Picked(items);
        return Arranged(id, at, order => [.. order.Where(item => !picked.Contains(item))]);
    }

    public IActionResult OnPostSettings(long id, TypedDisc typed, long? at)
    {
        if (store.Get(id) is not { Kind: DeliveryKind.Audio } row)
            return NotFound();
        var title = DeliveryStore.TitleOf(typed.Title);
        if (title.Length > 0 && title != row.Title)
            store.SetTitle(id, title);
        discs.SetSettings(id, typed.Over(AudioDiscSettings.Of(row)));
        Refusal = ModelState.IsValid ? typed.Problem : "What is no number was left as it was.";
        return Shown(id, at);
    }

    public IActionResult OnPostTrack(long id, long at, TypedDiscTrack typed)
    {
        if (!store.Items(id).Any(item => item.Id == at))
            return NotFound();
        Refusal = ModelState.IsValid ? typed.Problem : "A pause is a number of seconds.";
        if (Refusal is null)
            store.SetItemSettings(at, typed.ToSettings().ToJson());
        return Shown(id, at);
    }

    public IActionResult OnPostInsert(long id, string burner, string disc)
    {
        Message = bay.Insert(burner, disc);
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostEject(long id, string burner)
    {
        bay.Eject(burner);
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostClose(long id, string burner)
    {
        bay.Close(burner);
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostBurn(long id) => Started(id, discs.Burn(id).Problem);

    public IActionResult OnPostImage(long id, string? folder)
    {
        if (store.Get(id) is not { Kind: DeliveryKind.Audio } row)
            return NotFound();
        var check = allowed.CheckOutputFolder(folder);
        if (check.Path is null)
            return Started(id, check.Refusal);
        discs.SetSettings(id, AudioDiscSettings.Of(row) with { ImageFolder = check.Path });
        return Started(id, discs.WriteImage(id).Problem);
    }

    public IActionResult OnPostStop(long id)
    {
        if (store.LatestRun(id) is { } run)
            scheduler.Stop(run);
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostContinue(long id)
    {
        if (store.LatestRun(id) is { } run)
            scheduler.Continue(run);
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostLeaveOut(long id)
    {
        discs.LeaveOut(id);
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostSplit(long id)
    {
        if (discs.Split(id).Count == 0)
            Message = "One of the tracks is longer than a disc.";
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostDelete(long id)
    {
        store.Remove(id);
        return Redirect("/deliver");
    }

    private IActionResult Arranged(long id, long? at, Func<IReadOnlyList<long>, IReadOnlyList<long>> arrange)
    {
        discs.Arrange(id, arrange);
        return Shown(id, at);
    }

    private RedirectToPageResult Started(long id, string? problem)
    {
        Message = problem;
        return RedirectToPage(new { id });
    }

    private IActionResult Shown(long id, long? at) => Load(id, at) ? Page() : NotFound();

    private static HashSet<long> Picked(string? items) => [.. PickedTracks.NumbersIn(items)];

    private double ShareOf(params string[] kinds)
    {
        if (Run is not { Run.State: RunState.Running or RunState.Stopped } view)
            return 0;
        var item = runs.Items(view.Run.Id).LastOrDefault(item => kinds.Contains(item.Kind) && item.State is ItemState.Working or ItemState.Done);
        return item is null ? 0 : item.State == ItemState.Done ? 1 : view.Working.GetValueOrDefault(item.Id)?.Share ?? 0;
    }

    private bool Load(long id, long? at)
    {
        if (discs.View(id) is not { } view)
            return false;
        View = view;
        Place = view.Lines.FirstOrDefault(line => line.Item.Id == at);
        Run = view.Run is { } run ? progress.View(run.Id) : null;
        return true;
    }
}
