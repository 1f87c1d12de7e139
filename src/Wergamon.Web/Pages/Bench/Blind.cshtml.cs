using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Bench;

namespace Wergamon.Web.Pages.Bench;

/// <summary>A blind test: its trials, and at the end its score.</summary>
public sealed class BlindModel(BlindTests blind, NullTests tests, BenchRails rails) : PageModel
{
    /// <summary>A score that guessing reaches less often than this counts as hearing a difference (common practice, no source).</summary>
    private const double Significant = 0.05;

    public BlindTestRecord Record { get; private set; } = null!;

    public BenchRail Rail => rails.Make() with { BlindId = Record.Id };

    public bool HasSounds { get; private set; }

    /// <summary>Seconds that both sounds have.</summary>
    public (double From, double To) Common { get; private set; }

    public string Verdict => Record.ByGuessing <= Significant ? "You can hear a difference." : "This is no more than guessing reaches.";

    public IActionResult OnGet(long id) => Load(id) ? Page() : NotFound();

    public IActionResult OnPostAnswer(long id, int trial, bool first)
    {
        blind.Answer(id, trial, first);
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostAgain(long id) =>
        blind.Get(id) is { } record ? Redirect($"/bench/blind/{blind.Start(record.Test.Id, record.Trials)}") : NotFound();

    public IActionResult OnPostRemove(long id)
    {
        var test = blind.Get(id)?.Test.Id;
        blind.Remove(id);
        return Redirect(test is null ? "/bench" : $"/bench/tests/{test}");
    }

    private bool Load(long id)
    {
        if (blind.Get(id) is not { } record)
            return false;
        Record = record;
        using var sound = tests.Open(record.Test);
        if (sound is null)
            return true;
        HasSounds = true;
        Common = ((double)sound.Overlap.Start / sound.Rate.Hertz, (double)sound.Overlap.End / sound.Rate.Hertz);
        return true;
    }
}
