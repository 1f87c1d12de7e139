using Wergamon.App.Copies;
using Wergamon.App.Runs;
using Wergamon.Core.Discs.Iso9660;
using Wergamon.Core.Planning;

namespace Wergamon.App.Deliver.Discs;

/// <summary>Builds the views of data discs: what their files will be, and how much room they take.</summary>
public sealed class DataDiscViews(DeliveryStore store, DeliveredFiles files, TargetChoices targets, RunStore runs, BurnerBay bay)
{
    /// <summary>Null for a disc that is no longer planned.</summary>
    public DataDiscView? View(long id)
    {
        if (store.Get(id) is not { Kind: DeliveryKind.Data } row)
            return null;
        var chosen = DataDiscSettings.Of(row);
        var target = TargetOf(chosen);
        var planned = files.Plan(store.Items(id), target, chosen.IsNumbered);
        var burner = bay.Burner(chosen.Burner) ?? bay.Burners[0];
        var blank = BurnerBay.BlankFor(burner, chosen.BlankKey);
        var sources = planned.Select(file => file.Planned)
            .OfType<PlanItem>()
            .Select(item => new IsoSource(item.RelativePath, item.Size.Bytes, () => Stream.Null))
            .ToList();
        if (chosen.HasPlaylist && sources.Count > 0)
            sources.Add(
                DataDiscPlaylist.For(
                    row.Title,
                    planned.Where(file => file.Planned is not null)
                        .Select(
                            file =>
                                (file.Planned!.RelativePath,
                                    new ListedTrack(file.Title, file.Artist, file.Track!.Master.Facts.Duration.TotalSeconds)))));
        return new DataDiscView(
            row, chosen, target, planned, IsoWriter.SectorsOf(sources), blank, burner)
        { Run = store.LatestRun(id) is { } run ? runs.Get(run) : null };
    }

    private Target TargetOf(DataDiscSettings chosen) =>
        targets.Get(chosen.TargetKey) with { Names = chosen.Names, Place = OutputLocation.Folder, OnConflict = ConflictRule.KeepBoth };
}
