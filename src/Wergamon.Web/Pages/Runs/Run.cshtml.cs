using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Convert;
using Wergamon.App.Runs;
using Wergamon.App.Tags;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Runs;

public sealed class RunModel(RunStore runs, RunProgress progress, RunScheduler scheduler, RunLabels words, TagRuns tagRuns) : PageModel
{
    private const int MaxListed = 300, MaxLatest = 50;

    public RunView View { get; private set; } = null!;

    public IReadOnlyList<RunLine> Lines { get; private set; } = [];

    public bool HasFiles => Lines.Any(line => line.Item.State == ItemState.Done && line.Description.Path is not null);

    /// <summary>True when only the most relevant items of a long run are listed.</summary>
    public bool IsCut { get; private set; }

    /// <summary>True when the run moves originals to the trash.</summary>
    private bool RemovesSources { get; set; }

    public RunKind Kind => words.KindOf(View.Run);

    public bool CanUndo => Undoable.Count > 0;

    /// <summary>Items whose write can be undone.</summary>
    public IReadOnlySet<long> Undoable => _undoable ??= Kind.CanBeUndone ? tagRuns.Undoable(View.Run.Id) : new HashSet<long>();

    private IReadOnlySet<long>? _undoable;

    public string Verdict =>
        words.Verdict(
            View.Run,
            HasFiles && Kind is { Station: Station.Convert, MakesCopies: true }
                ? RemovesSources
                ? "The originals are in the trash."
                : "The originals are unchanged."
                : null);

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
        RemovesSources = items.Any(TrashOriginalHandler.ItemKind.Is) || IsCut && runs.Has(id, TrashOriginalHandler.ItemKind.Name);
        Lines =
        [
            .. items.Where(item => item.IsResult || item.State == ItemState.Failed)
                .Select(
                    item =>
                        new RunLine(
                            item, scheduler.Describe(item),
                            item.State == ItemState.Working ? view.Working.GetValueOrDefault(item.Id) : null)),
        ];
        return true;
    }
}
