using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Core.Discs;

namespace Wergamon.App.Deliver.Discs;

/// <summary>Discs of files: planned from tracks of the library by a target, written to a disc or to an image.</summary>
public sealed class DataDiscs(
    DeliveryStore store, DataDiscViews views, DeliveryRuns starts, BurnerBay bay, DeliverySpool spool, AllowedPaths allowed,
    AppOptions options, Settings settings)
{
    public static readonly RunKind RunKind = new("data-disc", Station.Deliver, "Burning", "done")
    {
        Noun = "step",
        SaysSummary = run => $"Data disc in {run.Purpose}"
    };

    /// <summary>The runs that write images instead.</summary>
    public static readonly RunKind ImageKind = new("data-image", Station.Deliver, "Writing an image", "done")
    {
        Noun = "step",
        SaysSummary = _ => "Image of a data disc"
    };

    private const string ChoiceKey = "data disc";

    /// <summary>Plans tracks, with the settings of the last plan.</summary>
    /// <param name="title">Null to go by the album.</param>
    public long Create(string? title, IReadOnlyList<long> trackIds) =>
        store.Create(
            DeliveryKind.Data, store.TitleFor(title, trackIds),
            (settings.Read(ChoiceKey, DiscRunsJson.Default.DataDiscSettings) ?? new DataDiscSettings()).ToJson(), trackIds);

    /// <summary>Changes how a disc is made; the next plan starts with the same settings.</summary>
    public void SetSettings(long id, DataDiscSettings changed)
    {
        var (burner, speed) = bay.Usable(changed.Burner, changed.Speed);
        changed = changed with { Burner = burner, Speed = speed };
        store.SetSettings(id, changed.ToJson());
        settings.Write(ChoiceKey, changed, DiscRunsJson.Default.DataDiscSettings);
    }

    /// <summary>Starts to burn; gives the run, or the reason, for the person, why that is not possible.</summary>
    public (long? RunId, string? Problem) Burn(long id)
    {
        if (views.View(id) is not { } view)
            return (null, "This disc is no longer planned.");
        return BurnerBay.ProblemOf(view.Burner) is { } problem ? (null, problem) : Start(view, null);
    }

    /// <summary>Starts to write an image; gives the run, or the reason, for the person, why that is not possible.</summary>
    public (long? RunId, string? Problem) WriteImage(long id)
    {
        if (views.View(id) is not { } view)
            return (null, "This disc is no longer planned.");
        var check = allowed.CheckOutputFolder(view.Settings.ImageFolder ?? options.Folders.Delivered);
        return check.Path is { } folder ? Start(view, folder) : (null, check.Refusal);
    }

    private (long? RunId, string? Problem) Start(DataDiscView view, string? imageFolder)
    {
        if (view.Problem is { } problem)
            return (null, problem);
        return starts.Start(
            view.Row.Id,
            new NewRun(
                imageFolder is null ? RunKind : ImageKind, view.Row.Title, imageFolder is null ? view.Burner.Traits.Name : "image",
                imageFolder),
            (connection, run) =>
        {
            List<long> items = [.. DeliveredFiles.Insert(connection, run, 0, view.Files, spool.FolderOf(run))];
            var spec = new DataDiscSpec(
                view.Row.Title,
                [.. view.Files.Select(file => new ListedTrack(file.Title, file.Artist, file.Track!.Master.Facts.Duration.TotalSeconds))],
                view.Settings);
            // A sector of data takes a burner as long as one of sound.
            long length = (long)new Msf((int)Math.Min(view.Sectors, int.MaxValue)).Duration.TotalMilliseconds;
            long disc = RunStore.InsertItem(
                connection, run, items.Count,
                DataDiscHandler.ItemKind.New(
                    imageFolder is null ? Lane.Drive(view.Burner.Letter) : Lane.Image, view.Row.Title, length, spec));
            foreach (long item in items)
                RunStore.InsertWait(connection, disc, item, WaitReason.Success);
            return [.. items, disc];
        });
    }
}
