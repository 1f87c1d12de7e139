using Wergamon.App.Copies;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Runs;
using Wergamon.Core.Naming;

namespace Wergamon.Web.Pages.Deliver;

/// <summary>What came of deliveries, in words: the same on their pages and on the front page.</summary>
public sealed class DeliveryOutcomes(RunStore runs, RunScheduler scheduler)
{
    /// <summary>What came of a delivery so far, and whether it is bad.</summary>
    public (string Words, bool IsBad) Of(DeliveryOverview each) => each.Run switch
    {
        { State: RunState.Stopped } => ("stopped", false),
        { State: RunState.Running } => ("being made", false),
        { } run => Of(each.Row.Kind, run) ?? ("", false),
        null => (each.Row.Kind == DeliveryKind.Audio ? $"{DiscFit.Of(each).InWords}, not burned yet" : "not made yet", false),
    };

    /// <summary>The outcome of a run that has ended, and whether it is bad; null while it goes on or waits.</summary>
    public (string Words, bool IsBad)? Of(DeliveryKind kind, RunRow run)
    {
        if (run.State != RunState.Done)
            return null;
        var items = runs.Items(run.Id);
        return items.Where(item => item.State == ItemState.Failed).OrderBy(item => item.Position).FirstOrDefault() is { } failed
            ? ($"{(failed.IsResult ? "" : $"“{failed.Title}” could not be prepared: ")}{failed.Failure}", true)
            : (WordsFor(kind, run, [.. items.Where(item => item.IsResult)]), false);
    }

    /// <summary>What a run that went well has done.</summary>
    /// <param name="results">Its results in order.</param>
    private string WordsFor(DeliveryKind kind, RunRow run, IReadOnlyList<RunItemRow> results) => kind switch
    {
        DeliveryKind.Data => run.OutputFolder is { } folder
            ? $"The image was written and read back: every byte is equal. It is in {folder}."
            : "The disc was burned and read back: every byte is equal.",
        DeliveryKind.Joined => results is [var file, ..] && CopyResult.Of(file) is { } made
            ? $"{Path.GetFileName(made.Path)} was made and read back: {made.Proof.InWords()}. It is in {run.OutputFolder}."
            : "The file was made.",
        DeliveryKind.Zip => $"{Plural.Count(results.Count, "file")} made and proved.",
        DeliveryKind.Stick => run.Kind == StickImports.RunKind.Key
            ? $"{Plural.Count(results.Count, "file")} copied into {run.OutputFolder}."
            : $"{WordsForStick(results)} The stick can be unplugged.",
        _ => WordsForDisc(run, results),
    };

    private string WordsForDisc(RunRow run, IReadOnlyList<RunItemRow> results)
    {
        if (run.OutputFolder is { } folder)
            return $"The image was written and read back: every sample is equal. It is in {folder}.";
        if (results.Any(item => scheduler.Describe(item).Outcome == BurnDiscHandler.Tried))
            return "The trial went through; the disc is still blank.";
        int copies = results.Count(BurnDiscHandler.ItemKind.Is);
        return $"{(copies == 1 ? "The disc was" : $"{copies} discs were")} "
            + $"burned{(results.Any(BurnCheckHandler.ItemKind.Is) ? " and read back: every sample is equal" : "")}.";
    }

    private static string WordsForStick(IReadOnlyList<RunItemRow> results)
    {
        int written = results.Count(item => StickRuns.IsWriting(item)), removed = results.Count(item => StickRuns.IsRemoval(item)),
            moved = results.Count - written - removed;
        var parts = new List<string>();
        if (written > 0)
            parts.Add($"{Plural.Count(written, "file")} written and read back");
        if (moved > 0)
            parts.Add($"{moved:N0} renamed");
        if (removed > 0)
            parts.Add($"{removed:N0} removed");
        return parts.Count == 0 ? "Everything was up to date." : string.Join(", ", parts) + ".";
    }
}
