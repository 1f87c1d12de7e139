using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Convert;
using Wergamon.App.Copies;
using Wergamon.App.Tracks;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;
using Wergamon.Web.Pages.Shared;

namespace Wergamon.Web.Pages.Convert;

public sealed class PlanModel(Plans plans, TrackSplits splits, Mirrors mirrors, TargetChoices targets, LibraryQueries library) : PageModel
{
    public PlanView View { get; private set; } = null!;

    public IReadOnlyList<Target> Targets { get; private set; } = [];

    public string? CoverHash { get; private set; }

    /// <summary>Which lines are shown.</summary>
    [BindProperty(SupportsGet = true)]
    public PlanFilter Show { get; set; }

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

    /// <summary>Uploaded files that cannot be read.</summary>
    [TempData]
    public string? Message { get; set; }

    /// <summary>Why the plan did not start.</summary>
    [TempData]
    public string? StartRefusal { get; set; }

    /// <summary>What can be shown, in words.</summary>
    public IReadOnlyList<(PlanFilter Filter, string Words)> Filters { get; } =
        [
            (PlanFilter.All, "All"), (PlanFilter.Warnings, "With warnings"), (PlanFilter.Exceptions, "Exceptions"),
            (PlanFilter.LeftOut, "Left out")
        ];

    /// <summary>What is lost when the originals go.</summary>
    public string LossInWords
    {
        get
        {
            var originals = Plural.Count(View.LossyReplacements, "original");
            return View.Target.IsLossy
                ? $"{originals} may go to the trash: {View.Target.Encoder.Summary} throws detail away that does not come back"
                : $"{originals} may go to the trash: not all of their sound, tags and pictures is in the copies";
        }
    }

    /// <summary>How the first track of the plan will be named.</summary>
    public string? ExampleName => View.Lines.Select(line => line.Planned?.RelativePath).FirstOrDefault(path => path is not null);

    /// <summary>"The Quarry Lamps, 6 of 6 tracks in running order"</summary>
    public string Subtitle
    {
        get
        {
            var artists = View.Lines.Select(line => line.Track?.AlbumArtist).Distinct().ToList();
            var who = artists is [{ Length: > 0 } one] ? one + ", " : "";
            return $"{who}{View.Count:N0} of {Plural.Count(View.Lines.Count, "track")} in running order";
        }
    }

    public IActionResult OnGet(long id)
    {
        if (!Load(id))
            return NotFound();
        Targets = targets.All();
        CoverHash = View.Lines is [{ Track: { } first }, ..] ? library.Album(first.AlbumId)?.CoverHash : null;
        return Page();
    }

    /// <summary>Further lines, while they are scrolled to.</summary>
    /// <param name="from">Counted among those that are shown.</param>
    public IActionResult OnGetLines(long id, int from) =>
        Load(id) ? Partial("_PlanLines", new PlanLinesModel(View, Show, from)) : NotFound();

    /// <summary>Joins the picked tracks into one.</summary>
    public IActionResult OnPostJoin(long id, PickedLines picked)
    {
        if (!Load(id))
            return NotFound();
        Message = splits.Join(id, picked.PositionsIn(View));
        return Back(id);
    }

    public IActionResult OnPostTarget(long id, string? target)
    {
        plans.SetTarget(id, target);
        return Back(id);
    }

    public IActionResult OnPostSettings(long id, TargetForm form)
    {
        if (plans.View(id)?.Target is not { } target)
            return NotFound();
        plans.SetTarget(id, form.ApplyTo(target));
        return Back(id);
    }

    public IActionResult OnPostFolder(long id, string? folder)
    {
        Refusal = plans.SetOutputFolder(id, folder);
        TypedFolder = Refusal is null ? null : folder;
        return Back(id);
    }

    public IActionResult OnPostNames(long id, string? names)
    {
        NamesRefusal = plans.SetNames(id, names);
        TypedNames = NamesRefusal is null ? null : names;
        return Back(id);
    }

    public IActionResult OnPostLeaveOut(long id, PickedLines picked, bool leaveOut)
    {
        if (!Load(id))
            return NotFound();
        plans.SetLeftOut(id, picked.PositionsIn(View), leaveOut);
        return Back(id);
    }

    public IActionResult OnPostStream(long id, int position, int? stream)
    {
        plans.SetStream(id, position, stream is >= 0 ? stream : null);
        return Back(id);
    }

    /// <summary>Keeps the plan as a mirror.</summary>
    public IActionResult OnPostKeep(long id)
    {
        var (mirror, refusal) = mirrors.Keep(id);
        if (mirror is { } kept)
            return Redirect($"/convert/mirrors/{kept}");
        StartRefusal = refusal;
        return Back(id);
    }

    /// <param name="agreed">The loss that the person was shown and agreed to; null for none.</param>
    public IActionResult OnPostRun(long id, string? agreed)
    {
        if (!Load(id))
            return NotFound();
        if (plans.Start(id, agreed) is not { } run)
        {
            if (View.Loss is { } loss && loss != agreed)
                StartRefusal = agreed is null
                    ? "Tick that the originals may go, or let them stay. Nothing was started."
                    : "What would be lost has changed since you agreed to it. Nothing was started. Check it, and tick it again.";
            return Back(id);
        }

        return Redirect($"/runs/{run}");
    }

    private bool Load(long id)
    {
        if (plans.View(id) is not { } view)
            return false;
        View = view;
        return true;
    }

    private RedirectToPageResult Back(long id) => RedirectToPage(new { id, show = Show == PlanFilter.All ? (PlanFilter?)null : Show });
}
