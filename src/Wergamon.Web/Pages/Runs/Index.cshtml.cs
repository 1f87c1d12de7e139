using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Runs;
using Wergamon.App.Workers;

namespace Wergamon.Web.Pages.Runs;

/// <summary>The queue of runs, how much of the machine they may use, and the runs that have ended.</summary>
public sealed class IndexModel(RunStore runs, RunProgress progress, RunScheduler scheduler, WorkLoad load) : PageModel
{
    private const int MaxListed = 500;

    public IReadOnlyList<RunView> Queue { get; private set; } = [];

    public IReadOnlyList<RunRow> History { get; private set; } = [];

    public int MaxWorkers => load.MaxWorkers;

    /// <summary>0 for one at low priority.</summary>
    public int Workers => load.IsQuiet ? 0 : load.Workers;

    public void OnGet() => Load();

    public PartialViewResult OnGetBody()
    {
        Load();
        return Partial("_Runs", this);
    }

    public IActionResult OnPostMove(long id, bool earlier) => After(() => scheduler.Move(id, earlier));

    public IActionResult OnPostPause(long id) => After(() => scheduler.Pause(id));

    public IActionResult OnPostContinue(long id) => After(() => scheduler.Continue(id));

    public IActionResult OnPostWorkers(int workers) => After(() => scheduler.ChooseWorkers(workers));

    private RedirectToPageResult After(Action change)
    {
        change();
        return RedirectToPage();
    }

    private void Load()
    {
        var listed = runs.List(MaxListed);
        Queue = [.. listed.Where(run => run.State != RunState.Done).Select(progress.View)];
        History = [.. listed.Where(run => run.State == RunState.Done)];
    }
}
