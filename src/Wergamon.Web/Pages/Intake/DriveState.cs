using Wergamon.App.Intake;
using Wergamon.App.Runs;
using Wergamon.Core.Naming;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Intake;

/// <summary>How far the disc in a drive is, and what comes next.</summary>
/// <param name="Next">The name of the next step.</param>
/// <param name="IsNext">True if the disc waits for it.</param>
public sealed record DriveState(string Words, string Next, bool IsNext)
{
    public static DriveState Of(DiscView view) => (view.Inserted, view.Rip?.Run) switch
    {
        (null, _) => new DriveState("empty", "Insert a disc", false),
        (_, { Run.State: RunState.Running } run) => new DriveState($"ripping, {RunLabels.Remaining(run)} left", "Open", false),
        (_, { Run.State: RunState.Stopped }) => new DriveState("stopped", "Continue", true),
        (_, { Run: var run }) => new DriveState(Ended(view, run), "Open", false),
        ({ State: LookUpState.Asking }, _) => new DriveState("asking the catalogue", "Open", false),
        ({ State: LookUpState.Failed }, _) => new DriveState("the catalogue did not answer", "Open", false),
        ({ Candidates.Count: > 1 and var count }, _) => new DriveState($"{count} albums match", "Choose the album", true),
        (_, _) when view.Album.Title.Length == 0 => new DriveState("not named", "Fill in the names", true),
        _ => new DriveState("new disc", "Review and rip", true),
    };

    private static string Ended(DiscView view, RunRow run)
    {
        int doubtful = view.Lines.Count(line => line.Reading is { IsProved: false });
        return run.Failed > 0
            ? $"{run.Done:N0} made, {run.Failed:N0} failed"
            : $"{Plural.Count(run.Done, "file")} made{(doubtful > 0 ? $", {Plural.Count(doubtful, "track")} not proved" : "")}";
    }
}
