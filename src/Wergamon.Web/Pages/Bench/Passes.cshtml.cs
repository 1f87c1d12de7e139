using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Bench;
using Wergamon.App.Runs;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Naming;

namespace Wergamon.Web.Pages.Bench;

/// <summary>What each pass of a sound took away.</summary>
public sealed class PassesModel(Passes passes, PassStore store, RunProgress progress, BenchRails rails) : PageModel
{
    public PassesRecord Record { get; private set; } = null!;

    public BenchRail Rail => rails.Make() with { PassesId = Record.Id };

    /// <summary>The run that is making them; null when that has ended.</summary>
    public RunView? Run { get; private set; }

    public IReadOnlyList<PassChart> Charts => PassChart.Of(Record);

    /// <summary>Whether the file of a pass is no longer in the cache.</summary>
    public bool HasGaps =>
        Record.Series.Any(series => series.Passes.Count < Record.Count || series.Passes.Any(pass => !pass.Sound.IsUnchanged));

    [TempData]
    public string? Message { get; set; }

    /// <summary>One sentence for a target: what the last pass has kept of the original.</summary>
    public static string Verdict(PassSeries series) => series.Passes is [.., var last]
        ? $"After {Words(series.Passes.Count)}: {Lower(NullVerdict.InWords(last.Original, "it"))}."
        : "Not encoded yet.";

    public IActionResult OnGet(long id) => Load(id) ? Page() : NotFound();

    public IActionResult OnPostCompare(long id, long series, int pass, int against)
    {
        if (passes.Compare(id, series, pass, against) is { } test)
            return Redirect($"/bench/tests/{test}");
        Message = "A file of these passes is no longer kept, or the original has changed. Encode again.";
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostAgain(long id)
    {
        passes.Again(id);
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostRemove(long id)
    {
        passes.Remove(id);
        return Redirect("/bench/passes");
    }

    private static string Words(int count) => Plural.Count(count, "pass");

    private static string Lower(string sentence) => char.ToLowerInvariant(sentence[0]) + sentence[1..];

    private bool Load(long id)
    {
        if (store.Get(id) is not { } record)
            return false;
        Record = record;
        Run = record.RunId is { } run && progress.View(run) is { Run.State: not RunState.Done } view ? view : null;
        return true;
    }
}
