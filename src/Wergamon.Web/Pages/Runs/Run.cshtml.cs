using System.Globalization;
using Microsoft.AspNetCore.Mvc;
using Microsoft.AspNetCore.Mvc.RazorPages;
using Wergamon.App.Intake;
using Wergamon.App.Runs;
using Wergamon.Core.Jobs;

namespace Wergamon.Web.Pages.Runs;

public sealed class RunModel(RunProgress progress, RunEngine engine, RipStore rips) : PageModel
{
    public RunView View { get; private set; } = null!;

    private IEnumerable<RunItemRow> DoneItems => View.Items.Where(item => item.State == ItemState.Done);

    public long BytesBefore => DoneItems.Sum(item => item.BytesBefore);

    public long BytesAfter => DoneItems.Sum(item => item.ReadProof()?.Bytes ?? 0);

    public string Verdict
    {
        get
        {
            bool isRip = View.Run.Kind == RunKind.Rip;
            var thing = isRip ? "file" : "track";
            int skipped = View.Items.Count(item => item.State == ItemState.Skipped), unproved = rips.CountUnproved(View.Run.Id);
            var parts = new List<string> { View.Run.Failed == 0 && skipped == 0 ? $"All {Words.Count(View.Run.Done, thing)} {(isRip ? "read back" : "proved")}" : $"{Words.Count(View.Run.Done, thing)} {(isRip ? "read back" : "proved")}" };
            if (View.Run.Failed > 0)
                parts.Add($"{View.Run.Failed} failed");
            if (skipped > 0)
                parts.Add($"{skipped} skipped");
            if (unproved > 0)
                parts.Add($"{Words.Count(unproved, "track")} of the disc not proved");
            return string.Join(", ", parts) + (isRip ? "." : ". The originals are as they were.");
        }
    }

    public IActionResult OnGet(long id) => Load(id) ? Page() : NotFound();

    public IActionResult OnGetBody(long id) => Load(id) ? Partial("Runs/_Run", this) : NotFound();

    public IActionResult OnPostStop(long id)
    {
        engine.Stop(id);
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostGoOn(long id)
    {
        engine.GoOn(id);
        return RedirectToPage(new { id });
    }

    public IActionResult OnPostRetry(long id)
    {
        engine.RetryFailed(id);
        return RedirectToPage(new { id });
    }

    public string StateWord(RunItemRow item) => item.State switch
    {
        ItemState.Done => "Proved",
        ItemState.Failed => "Failed",
        ItemState.Skipped => "Skipped",
        ItemState.Waiting => "Waiting",
        ItemState.Reading => "Waiting for the disc",
        ItemState.Proved => "Proved, being filed",
        _ => "Starting",
    };

    /// <summary>What was proved, or why it failed.</summary>
    public string StateDetail(RunItemRow item) => item switch
    {
        { State: ItemState.Done } when item.ReadProof() is { } proof => InWords(proof),
        { State: ItemState.Failed } => $"{item.Failure} Nothing was written; {(item.DiscTrack is null ? "the original is as it was" : "what was read from the disc is kept")}.",
        { State: ItemState.Skipped } => item.Failure ?? "",
        _ => "",
    };

    private static string InWords(Proof proof)
    {
        var parts = new List<string>
        {
            proof.IsLossless ? $"every sample equal, MD5 {proof.SampleMd5?[..8]}" : string.Create(CultureInfo.InvariantCulture, $"same length, {proof.FramesOut:N0} samples"),
            Words.Count(proof.FieldsKept, "tag"),
        };
        if (proof.PicturesKept > 0)
            parts.Add(Words.Count(proof.PicturesKept, "picture"));
        if (proof.FoldGainDecibels is { } gain)
            parts.Add(string.Create(CultureInfo.InvariantCulture, $"folded down at {gain:0.0} dB"));
        if (proof.ClippedSamples > 0)
            parts.Add(string.Create(CultureInfo.InvariantCulture, $"{proof.ClippedSamples:N0} samples at full scale"));
        if (proof.SourceDamage.Count > 0)
            parts.Add("source damaged: " + proof.SourceDamage[0]);
        return string.Join(", ", parts);
    }

    private bool Load(long id)
    {
        if (progress.View(id) is not { } view)
            return false;
        View = view;
        return true;
    }
}
