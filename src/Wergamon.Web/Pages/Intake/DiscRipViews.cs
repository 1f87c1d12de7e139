using Wergamon.App.Copies;
using Wergamon.App.Intake;
using Wergamon.App.Runs;
using Wergamon.Core.Planning;

namespace Wergamon.Web.Pages.Intake;

/// <summary>The newest rip of a disc as it goes.</summary>
/// <param name="IsReading">True while tracks are being read; their copies may take a little longer.</param>
/// <param name="Now">What the drive is doing for it; null while it is doing nothing.</param>
/// <param name="Copies">What was made of it so far.</param>
public sealed record DiscRipView(
    RunView Run, RipSettings? Settings, IReadOnlyList<RipTrackRow> Tracks, ReadingNow? Now, bool IsReading,
    IReadOnlyList<(CopySpec Spec, CopyResult Result)> Copies)
{
    /// <summary>Attenuation of the downmix of a title in decibels, once it is made.</summary>
    public double? DownmixGainOf(int title) =>
        Copies.Where(copy => copy.Spec.DiscTrack == title)
            .Select(copy => copy.Result.Proof.FittingGainDecibels)
            .FirstOrDefault(gain => gain is not null);

    /// <summary>True when the downmix of a title is made, whether it had to be turned down or not.</summary>
    public bool IsDownmixed(int title) => Copies.Any(copy => copy.Spec.DiscTrack == title && copy.Spec.Target.Channels.Downmixes());
}

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
