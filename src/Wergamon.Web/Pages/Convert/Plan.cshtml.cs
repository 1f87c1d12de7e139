using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Convert;
using Wergamon.App.Library;
using Wergamon.App.Runs;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Formats;
using Wergamon.Core.Planning;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Convert;

public sealed class PlanModel(Plans plans, TargetChoices targets, RunScheduler scheduler, LibraryQueries library) : PageModel
{
    public PlanView View { get; private set; } = null!;

    public IReadOnlyList<Target> Targets { get; private set; } = [];

    public string? CoverHash { get; private set; }

    /// <summary>The folder that was typed and rejected, and why.</summary>
    [TempData]
    public string? TypedFolder { get; set; }

    [TempData]
    public string? Refusal { get; set; }

    /// <summary>The names that were typed and rejected, and why.</summary>
    [TempData]
    public string? TypedNames { get; set; }

    [TempData]
    public string? NamesRefusal { get; set; }

    /// <summary>How the first track of the plan will be named.</summary>
    public string? ExampleName => View.Lines.Select(line => line.Planned?.RelativePath).FirstOrDefault(path => path is not null);

    /// <summary>"The Quarry Lamps, 6 of 6 tracks in running order"</summary>
    public string Subtitle
    {
        get
        {
            var artists = View.Lines.Select(line => line.Track.AlbumArtist).Distinct().ToList();
            var who = artists is [{ Length: > 0 } one] ? one + ", " : "";
            return $"{who}{View.Count} of {Words.Count(View.Lines.Count, "track")} in running order";
        }
    }

    public IActionResult OnGet(long id)
    {
        if (plans.View(id) is not { } view)
            return NotFound();
        View = view;
        Targets = targets.All();
        CoverHash = view.Lines.Count > 0 ? library.Album(view.Lines[0].Track.AlbumId)?.CoverHash : null;
        return Page();
    }

    public IActionResult OnPostTarget(long id, string? target)
    {
        plans.SetTarget(id, target);
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostSettings(long id, TargetForm form)
    {
        if (plans.View(id)?.Target is not { } target)
            return NotFound();
        plans.SetTarget(id, form.ApplyTo(target));
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostFolder(long id, string? folder)
    {
        Refusal = plans.SetOutputFolder(id, folder);
        TypedFolder = Refusal is null ? null : folder;
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostNames(long id, string? names)
    {
        NamesRefusal = plans.SetNames(id, names);
        TypedNames = NamesRefusal is null ? null : names;
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostLeaveOut(long id, int position, bool leaveOut)
    {
        plans.SetLeftOut(id, position, leaveOut);
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostStream(long id, int position, int? stream)
    {
        plans.SetStream(id, position, stream is >= 0 ? stream : null);
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostRun(long id)
    {
        if (plans.Start(id) is not { } run)
            return plans.View(id) is null ? NotFound() : RedirectToPage(new { id });
        scheduler.Wake();
        return Redirect($"/runs/{run}");
    }
}
