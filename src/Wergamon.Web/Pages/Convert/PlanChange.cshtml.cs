using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Convert;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;
using Wergamon.Web.Pages.Shared;

namespace Wergamon.Web.Pages.Convert;

/// <summary>How picked tracks deviate from their plan: a dialog over it.</summary>
public sealed class PlanChangeModel(Plans plans, TrackSplits splits) : PageModel
{
    private const int MaxName = 200;

    private PlanView _view = null!;

    /// <summary>Opened by its address, it leads to the plan.</summary>
    public IActionResult OnGet(long id) => RedirectToPage("Plan", new { id });

    public IActionResult OnPostPicked(long id, PickedLines picked) => Load(id) ? Show(ModelOf(picked)) : NotFound();

    public IActionResult OnPostSave(long id, PickedLines picked, TargetForm form, string? name)
    {
        if (!Load(id))
            return NotFound();
        var lines = picked.In(_view);
        if (lines.Count == 0)
            return Show(ModelOf(picked));
        var changed = form.ApplyTo(lines[0].Exception?.ApplyTo(_view.Target) ?? _view.Target);
        var typed = name?.Trim() is { Length: > 0 and <= MaxName } text ? text : null;
        plans.SetException(
            id, picked.PositionsIn(_view),
            exception => exception.With(_view.Target, changed) with { Name = lines.Count == 1 ? typed : exception.Name });
        return ShowChanged(id, picked);
    }

    public IActionResult OnPostAsPlanned(long id, PickedLines picked)
    {
        if (!Load(id))
            return NotFound();
        plans.SetException(id, picked.PositionsIn(_view), _ => new TrackException());
        return ShowChanged(id, picked);
    }

    /// <summary>Splits a track into parts of its file.</summary>
    /// <param name="found">Marks that were found with the file; null to take the typed ones.</param>
    public IActionResult OnPostSplit(long id, PickedLines picked, string? found, string? marks, bool onSectors)
    {
        if (!Load(id))
            return NotFound();
        if (picked.In(_view) is not [var line, ..])
            return Show(ModelOf(picked));
        var refusal = found is not null
            ? splits.SplitByFound(id, line.Position, found, onSectors)
            : splits.SplitAt(id, line.Position, marks ?? "", onSectors);
        return ShowChanged(id, picked, model => refusal is not null
            ? model with { Notice = refusal, IsRefused = true, TypedMarks = marks, OnSectors = onSectors }
            : model with { Notice = $"Split into {Plural.Count(PartsOf(line), "part")}; this is the first." });
    }

    /// <summary>Undoes splitting or joining.</summary>
    public IActionResult OnPostWhole(long id, PickedLines picked)
    {
        if (!Load(id))
            return NotFound();
        if (picked.In(_view) is [var line, ..])
            splits.Undo(id, line.Position);
        return ShowChanged(id, picked);
    }

    private bool Load(long id)
    {
        if (plans.View(id) is not { } view)
            return false;
        _view = view;
        return true;
    }

    private int PartsOf(PlanLine line) => _view.Lines.Count(each => each.Part is not null && each.FilePath == line.FilePath);

    private ChangeModel ModelOf(PickedLines picked)
    {
        var lines = picked.In(_view);
        return new ChangeModel(_view, lines) { Splits = lines is [var only] ? splits.Find(only) : [] };
    }

    private IActionResult ShowChanged(long id, PickedLines picked, Func<ChangeModel, ChangeModel>? describe = null)
    {
        if (!Load(id))
            return NotFound();
        Response.Headers["HX-Trigger"] = "plan-changed";
        var model = ModelOf(picked);
        return Show(describe?.Invoke(model) ?? model);
    }

    private PartialViewResult Show(ChangeModel model) => Partial("_Change", model);
}
