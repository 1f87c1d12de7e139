using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Bench;
using Wergamon.App.Runs;
using Wergamon.Core.Analysis.Comparing;

namespace Wergamon.Web.Pages.Bench;

/// <summary>A null test: its verdict, its figures, and what can be seen and heard.</summary>
public sealed class TestModel(NullTests tests, NullTestStore store, RunProgress progress, BenchRails rails) : PageModel
{
    /// <summary>More than this would only lift noise.</summary>
    private const double MaxResidueGain = 90;

    public NullTestRecord Test { get; private set; } = null!;

    public BenchRail Rail => rails.Make() with { TestId = Test.Id };

    /// <summary>The run that is making it; null when that has ended.</summary>
    public RunView? Run { get; private set; }

    /// <summary>Whether the sounds are still kept.</summary>
    public bool HasSounds { get; private set; }

    /// <summary>Seconds, from where the earlier sound starts to where the later one ends.</summary>
    public (double From, double To) Whole { get; private set; }

    public bool HasChanged => !Test.First.IsUnchanged || !Test.Second.IsUnchanged;

    public string Verdict => Test.Result is { } result ? NullVerdict.InWords(result, "B") + "." : "";

    /// <summary>How much louder the residue is shown and heard at first, in whole dB: as loud as the music, but not clipping.</summary>
    public int ResidueGain =>
        Test.Result is { ResiduePeak: { } peak } result
            ? (int)Math.Clamp(Math.Min(result.BelowMusic, -peak.Decibels), 0, MaxResidueGain)
            : 0;

    public IActionResult OnGet(long id) => Load(id) ? Page() : NotFound();

    public IActionResult OnPostAgain(long id)
    {
        tests.Again(id);
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostStop(long id, [FromServices] RunScheduler scheduler)
    {
        if (store.Get(id) is { RunId: { } run })
            scheduler.GiveUp(run);
        tests.Remove(id);
        return Redirect("/bench");
    }

    public IActionResult OnPostBlind(long id, int trials, [FromServices] BlindTests blind)
    {
        if (store.Get(id) is null)
            return NotFound();
        return Redirect($"/bench/blind/{blind.Start(id, Math.Clamp(trials, BlindTests.MinTrials, BlindTests.MaxTrials))}");
    }

    public IActionResult OnPostRemove(long id)
    {
        tests.Remove(id);
        return Redirect("/bench");
    }

    private bool Load(long id)
    {
        if (store.Get(id) is not { } test)
            return false;
        Test = test;
        Run = test.RunId is { } run && progress.View(run) is { Run.State: not RunState.Done } view ? view : null;
        using var sound = tests.Open(test);
        if (sound is null)
            return true;
        HasSounds = true;
        Whole = ((double)sound.Whole.Start / sound.Rate.Hertz, (double)sound.Whole.End / sound.Rate.Hertz);
        return true;
    }
}
