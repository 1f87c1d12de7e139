using Wergamon.App.Copies;
using Wergamon.App.Intake;
using Wergamon.App.Runs;

namespace Wergamon.Web.Pages.Intake;

/// <summary>The newest rip of a disc as it goes.</summary>
/// <param name="Now">What the drive is doing for it; null while it is doing nothing.</param>
/// <param name="Copies">What was made of it so far.</param>
public sealed record DiscRipView(
    RunView Run, RipSettings? Settings, IReadOnlyList<RipTrackRow> Tracks, ReadingNow? Now, bool IsReading,
    IReadOnlyList<(CopySpec Spec, CopyResult Result)> Copies);

/// <summary>Builds the views of rips.</summary>
public sealed class DiscRipViews(DiscRips rips, RipStore store, RipProgress progress, RunStore runs, RunProgress runProgress)
{
    /// <summary>Null for a disc that has not been ripped since it was inserted.</summary>
    public DiscRipView? Of(InsertedDisc inserted, string drive)
    {
        if (rips.RunOf(inserted) is not { Id: var id } || runProgress.View(id) is not { } run)
            return null;
        return new DiscRipView(
            run, store.Get(id)?.ReadSettings(), store.Tracks(id), progress.Of(id),
            run.Run.State == RunState.Running && store.IsBusy(drive),
            [
                .. runs.Items(id)
                    .Where(item => RipCopyHandler.ItemKind.Is(item) && item.State == ItemState.Done)
                    .Select(item => (CopySpec.Of(item), CopyResult.Of(item)!)),
            ]);
    }
}
