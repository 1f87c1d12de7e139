using Wergamon.App.Intake;
using Wergamon.App.Runs;
using Wergamon.Core.Naming;

namespace Wergamon.Web.Display;

/// <summary>
/// Runs in words, the same in the pill, the drawer, on pages and in messages. What differs from kind to kind is in
/// <see cref="RunKind"/>.
/// </summary>
public sealed class RunLabels(RunKinds kinds, RipStore rips)
{
    public RunKind KindOf(RunRow run) => kinds[run.Kind];

    /// <summary>What it is doing, and how far it is: "Converting 3 of 12".</summary>
    public string Doing(RunRow run) => $"{KindOf(run).Doing} {Math.Min(run.Ended + 1, run.Results)} of {run.Results}";

    public string Summary(RunRow run) => KindOf(run).Summary(run);

    public string Outcome(RunRow run) => KindOf(run).Outcome(run);

    /// <summary>Time remaining, or why it is not known.</summary>
    public static string Remaining(RunView view) =>
        view.Run.State == RunState.Stopped ? "stopped" : view.Remaining is { } remaining ? Labels.Time(remaining) : "…";

    /// <summary>The message at the end of a run.</summary>
    public string Ended(RunRow run)
    {
        var (kind, unproved) = (KindOf(run), Unproved(run));
        string end = run.Failed > 0
            ? kind.Outcome(run)
            : kind.Summary(run) + (kind.SaysHowItEnded || unproved is not null ? "" : $", all {kind.Did}");
        return $"{run.Title}: {end}{(unproved is null ? "" : ", " + unproved)}";
    }

    /// <summary>What came of a run, on its page.</summary>
    /// <param name="about">What happened to the originals; null if there are none.</param>
    public string Verdict(RunRow run, string? about)
    {
        var kind = KindOf(run);
        var parts = new List<string>
        {
            $"{(run.Failed == 0 && run.Skipped == 0 && run.Done > 1 ? "All " : "")}{Plural.Count(run.Done, kind.Noun)} {kind.Did}"
        };
        if (run.Failed > 0)
            parts.Add($"{run.Failed} failed");
        if (run.Skipped > 0)
            parts.Add($"{run.Skipped} skipped");
        if (Unproved(run) is { } unproved)
            parts.Add(unproved);
        return $"{string.Join(", ", parts)}.{(about is null ? "" : " " + about)}";
    }

    /// <summary>Copies can be proved of a track whose reading from the disc is not.</summary>
    private string? Unproved(RunRow run) =>
        rips.CountUnproved(run.Id) is > 0 and var unproved ? $"{Plural.Count(unproved, "track")} of the disc not proved" : null;
}
