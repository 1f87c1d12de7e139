using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Bench;
using Wergamon.App.Runs;
using Wergamon.Core.Analysis.Findings;

namespace Wergamon.Web.Pages.Bench;

/// <summary>Suspect files, with what was measured.</summary>
public sealed class FindingsModel(Inspections inspections, InspectionStore store, RunStore runs, BenchRails rails) : PageModel
{
    public const int PageSize = 50;

    public BenchRail Rail => rails.Make() with { IsFindings = true };

    public InspectionCounts Counts { get; private set; } = null!;

    public IReadOnlyList<InspectedCopy> Copies { get; private set; } = [];

    /// <summary>The kind that is listed; null for all.</summary>
    public FindingKind? Kind { get; private set; }

    public int From { get; private set; }

    /// <summary>The requested copy; null for the list.</summary>
    public long? CopyId { get; private set; }

    /// <summary>The run that is checking files; null for none.</summary>
    public RunRow? Run { get; private set; }

    public void OnGet(FindingKind? kind, int from, long? copy)
    {
        (Kind, From, CopyId) = (kind, Math.Max(0, from), copy);
        Counts = store.Count();
        Copies = copy is { } id ? store.Get(id) is { } found ? [found] : [] : store.List(kind, From, PageSize);
        Run = runs.InState(RunState.Running)
            .Concat(runs.InState(RunState.Stopped))
            .FirstOrDefault(run => run.Kind == Inspections.RunKind.Key);
    }

    public IActionResult OnPostAll()
    {
        inspections.StartAll();
        return Redirect("/bench/findings");
    }

    public IActionResult OnPostAlbum(long album)
    {
        inspections.StartAlbum(album);
        return Redirect("/bench/findings");
    }

    public IActionResult OnPostCopy(long copy)
    {
        inspections.StartCopy(copy);
        return Redirect($"/bench/findings?copy={copy}");
    }
}
