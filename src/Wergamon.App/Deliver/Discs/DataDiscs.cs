using System.Text;
using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Iso9660;
using Wergamon.Core.Naming;
using Wergamon.Core.Planning;
using Wergamon.Core.Playlists;

namespace Wergamon.App.Deliver.Discs;

/// <summary>Discs of files: planned from tracks of the library by a target, written to a disc or to an image.</summary>
public sealed class DataDiscs(
    DeliveryStore store, DeliveryRuns starts, DeliveredFiles files, TargetChoices targets, RunStore runs, BurnerBay bay,
    DeliverySpool spool, AllowedPaths allowed, AppOptions options, Settings settings)
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

    /// <summary>Makes a plan of tracks, with the choices of the last one.</summary>
    /// <param name="title">Null to go by the album.</param>
    public long Create(string? title, IReadOnlyList<long> trackIds) =>
        store.Create(
            DeliveryKind.Data, store.TitleFor(title, trackIds),
            (settings.Read(ChoiceKey, DiscRunsJson.Default.DataDiscSettings) ?? new DataDiscSettings()).ToJson(), trackIds);

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
                PlaylistOf(
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

    /// <summary>Changes how a disc is made; the next plan begins with the same.</summary>
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
        if (View(id) is not { } view)
            return (null, "This disc is no longer planned.");
        return BurnerBay.ProblemOf(view.Burner) is { } problem ? (null, problem) : Start(view, null);
    }

    /// <summary>Starts to write an image; gives the run, or the reason, for the person, why that is not possible.</summary>
    public (long? RunId, string? Problem) WriteImage(long id)
    {
        if (View(id) is not { } view)
            return (null, "This disc is no longer planned.");
        var check = allowed.CheckOutputFolder(view.Settings.ImageFolder ?? options.DeliveredFolder);
        return check.Path is { } folder ? Start(view, folder) : (null, check.Refusal);
    }

    /// <summary>The playlist of a disc, with the paths of the files on it.</summary>
    internal static IsoSource PlaylistOf(string title, IEnumerable<(string Path, ListedTrack Track)> tracks)
    {
        var bytes = Encoding.UTF8.GetBytes(
            PlaylistFormat.M3u8.Write(
                new Playlist(
                    title,
                    [
                        .. tracks.Select(
                            track =>
                                new PlaylistEntry(
                                    track.Path, track.Track.Title, track.Track.Artist, TimeSpan.FromSeconds(track.Track.Seconds)))
                    ])));
        return new IsoSource(
            SafeFileName.From(title, PlaylistFormat.M3u8.Extension), bytes.Length, () => new MemoryStream(bytes, writable: false));
    }

    private Target TargetOf(DataDiscSettings chosen) =>
        targets.Get(chosen.TargetKey) with { Names = chosen.Names, Place = OutputPlace.Folder, IfExists = IfExists.KeepBoth };

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
