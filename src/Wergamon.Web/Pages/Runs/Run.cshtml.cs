using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Bench;
using Wergamon.App.Convert;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Intake;
using Wergamon.App.Runs;
using Wergamon.App.Sets;
using Wergamon.App.Tags;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Runs;

/// <summary>One item as the page shows it.</summary>
public sealed record RunLine(RunItemRow Item, ItemDescription Description, ItemProgress? Progress)
{
    public string StateWord => Item.State switch
    {
        ItemState.Done => Description.Outcome,
        ItemState.Failed => "Failed",
        ItemState.Skipped => "Skipped",
        ItemState.Waiting => "Waiting",
        _ => "Starting",
    };

    /// <summary>What was proved, or why it failed.</summary>
    public string Detail => Item.State switch
    {
        ItemState.Done => Description.Detail,
        ItemState.Failed => $"{Item.Failure} {Description.OnFailure}",
        ItemState.Skipped => Item.Failure ?? "",
        _ => "",
    };
}

public sealed class RunModel(RunStore runs, RunProgress progress, RunScheduler scheduler, RipStore rips, TagRuns tagRuns) : PageModel
{
    private const int MaxListed = 300, MaxLatest = 50;

    public RunView View { get; private set; } = null!;

    public IReadOnlyList<RunLine> Lines { get; private set; } = [];

    public bool HasFiles => Lines.Any(line => line.Item.State == ItemState.Done && line.Description.Path is not null);

    /// <summary>True when only the part of a long run is listed that tells how it goes.</summary>
    public bool IsCut { get; private set; }

    /// <summary>True when the run moves originals to the trash.</summary>
    private bool TakesOriginals { get; set; }

    /// <summary>The station that it belongs to.</summary>
    public string Station => View.Run.Kind switch
    {
        TagRuns.RunKind or TagRuns.UndoKind => "Tags",
        MusicHandler.ItemKind => "Sets",
        NullTestHandler.ItemKind or PassHandler.ItemKind or InspectHandler.ItemKind => "Bench",
        AudioDiscs.RunKind or DataDiscs.RunKind or JoinedFiles.RunKind or ZippedFiles.RunKind or MusicSticks.RunKind or StickImportHandler.ItemKind => "Deliver",
        _ => "Convert",
    };

    /// <summary>False where files got other tags or were only listened to: nothing was made.</summary>
    public bool MakesFiles => Station == "Convert";

    public bool CanUndo => Undoable.Count > 0;

    /// <summary>Items whose write can be taken back.</summary>
    public IReadOnlySet<long> Undoable => _undoable ??= View.Run.Kind == TagRuns.RunKind ? tagRuns.Undoable(View.Run.Id) : new HashSet<long>();

    private IReadOnlySet<long>? _undoable;

    public string Verdict
    {
        get
        {
            var run = View.Run;
            var thing = RunWords.Thing(run);
            int unproved = rips.CountUnproved(run.Id);
            var did = run.Kind == RipStore.RunKind ? "read back" : run.Kind == MirrorFileHandler.RunKind ? RunWords.Did(run) : Lines.Count > 0 ? Lines[0].Description.Outcome.ToLowerInvariant() : "done";
            var parts = new List<string> { $"{(run.Failed == 0 && run.Skipped == 0 && run.Done > 1 ? "All " : "")}{Words.Count(run.Done, thing)} {did}" };
            if (run.Failed > 0)
                parts.Add($"{run.Failed} failed");
            if (run.Skipped > 0)
                parts.Add($"{run.Skipped} skipped");
            if (unproved > 0)
                parts.Add($"{Words.Count(unproved, "track")} of the disc not proved");
            return string.Join(", ", parts) + (HasFiles && MakesFiles && run.Kind != RipStore.RunKind ? TakesOriginals ? ". The originals are in the trash." : ". The originals are as they were." : ".");
        }
    }

    public IActionResult OnGet(long id) => Load(id) ? Page() : NotFound();

    public IActionResult OnGetBody(long id) => Load(id) ? Partial("_Run", this) : NotFound();

    public IActionResult OnPostStop(long id)
    {
        scheduler.Stop(id);
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostContinue(long id)
    {
        scheduler.Continue(id);
        return RedirectToPage(new { id });
    }

    /// <summary>Stops after the tracks that are under way.</summary>
    public IActionResult OnPostPause(long id)
    {
        scheduler.Pause(id);
        return RedirectToPage(new { id });
    }

    /// <param name="item">One that has failed; all of them without it.</param>
    public IActionResult OnPostRetry(long id, long? item)
    {
        scheduler.Retry(id, item);
        return RedirectToPage(new { id });
    }

    private bool Load(long id)
    {
        if (progress.View(id) is not { } view)
            return false;
        View = view;
        IsCut = view.Run.Results > MaxListed;
        var items = IsCut ? runs.LatestItems(id, MaxLatest) : runs.Items(id);
        TakesOriginals = items.Any(item => item.Kind == TrashOriginalHandler.ItemKind) || IsCut && runs.Has(id, TrashOriginalHandler.ItemKind);
        Lines =
        [
            .. items.Where(item => item.IsResult || item.State == ItemState.Failed)
                .Select(item => new RunLine(item, scheduler.Describe(item), item.State == ItemState.Working ? view.Working.GetValueOrDefault(item.Id) : null)),
        ];
        return true;
    }
}
