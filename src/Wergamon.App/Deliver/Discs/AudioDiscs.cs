using System.Data;
using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Burning;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.App.Deliver.Discs;

/// <summary>Audio discs: planned from tracks of the library, written to a disc or to an image.</summary>
public sealed class AudioDiscs(
    DeliveryStore store, DeliveryRuns starts, LibraryQueries library, RunStore runs, BurnerBay bay, AllowedPaths allowed,
    AppOptions options, Settings settings)
{
    public static readonly RunKind RunKind = new("burn", Station.Deliver, "Burning", "done")
    {
        Noun = "step",
        SaysSummary = run => $"Audio disc in {run.Purpose}"
    };

    /// <summary>The runs that write images instead.</summary>
    public static readonly RunKind ImageKind = new(
        "audio-image", Station.Deliver, "Writing an image", "written")
    { SaysSummary = _ => "Image of an audio disc" };

    private const string ChoiceKey = "audio disc";

    /// <summary>Plans tracks, with the settings of the last plan.</summary>
    /// <param name="title">Null to go by the album.</param>
    public long Create(string? title, IReadOnlyList<long> trackIds)
    {
        var tracks = library.TracksById(trackIds);
        var albums = tracks.Select(track => track.AlbumId).Distinct().ToList();
        var artists = tracks.Select(track => albums.Count == 1 ? track.AlbumArtist ?? track.Artist : track.Artist)
            .Distinct(StringComparer.OrdinalIgnoreCase)
            .ToList();
        var last = settings.Read(ChoiceKey, DiscRunsJson.Default.AudioDiscSettings) ?? new AudioDiscSettings();
        var made = last with
        {
            Artist = artists.Count == 1 ? artists[0] : DeliveryStore.ManyArtists,
            CatalogueNumber = "",
            IsFirstHidden = false,
            IsTrial = false,
            Copies = 1
        };
        return store.Create(DeliveryKind.Audio, store.TitleFor(title, trackIds), made.ToJson(), trackIds);
    }

    public AudioDiscView? View(long id)
    {
        if (store.Get(id) is not { Kind: DeliveryKind.Audio } row)
            return null;
        var chosen = AudioDiscSettings.Of(row);
        var items = store.Items(id);
        var lines = LinesOf(items, chosen);
        var there = lines.Where(line => line.Burn is not null).ToList();
        List<BurnTrack> tracks = [.. there.Select(line => line.Burn!)];
        var layout = DiscLayout.Of(tracks, chosen.Options);
        var places = there.Zip(layout.Tracks).ToDictionary(pair => pair.First.Item.Id, pair => pair.Second);
        var text = chosen.HasText && places.Count > 0
            ? DiscTextPacks.AsWritten(DiscImageWriter.TextOf(layout, row.Title, chosen.Artist), layout.Tracks.Count).Tracks
            : DiscText.None.Tracks;
        var burner = bay.Burner(chosen.Burner) ?? bay.Burners[0];
        var blank = BurnerBay.BlankFor(burner, chosen.BlankKey);
        var view = new AudioDiscView(
            row, chosen,
            [
                .. lines.Select(
                    line => places.TryGetValue(line.Item.Id, out var place)
                        ? line with { Place = place, Text = text.GetValueOrDefault(place.Number) }
                        : line)
            ],
            layout, blank, burner)
        {
            Run = store.LatestRun(id) is { } run ? runs.Get(run) : null,
        };
        return !view.IsTooLong ? view : view with
        {
            ToLeaveOut = [.. DiscSplit.ToLeaveOut(tracks, chosen.Options, blank).Select(place => there[place])],
            Split = DiscSplit.Over(tracks, chosen.Options, blank),
        };
    }

    /// <summary>Changes how a disc is made; the next plan starts with the same settings.</summary>
    public void SetSettings(long id, AudioDiscSettings changed)
    {
        var (burner, speed) = bay.Usable(changed.Burner, changed.Speed);
        changed = changed with { Burner = burner, Speed = speed };
        store.SetSettings(id, changed.ToJson());
        settings.Write(ChoiceKey, changed, DiscRunsJson.Default.AudioDiscSettings);
    }

    /// <summary>Splits a disc that is too long; returns all discs, or none if a single track is longer than a disc.</summary>
    public IReadOnlyList<long> Split(long id) =>
        View(id) is { Split.Count: > 1 } view && view.Lines.All(line => !line.IsMissing) ? store.Split(id, view.Split) : [];

    /// <summary>Leaves out as few tracks as needed.</summary>
    public void LeaveOut(long id)
    {
        if (View(id) is not { } view)
            return;
        var gone = view.ToLeaveOut.Select(line => line.Item.Id).ToHashSet();
        store.Arrange(id, items => [.. items.Where(item => !gone.Contains(item))]);
    }

    /// <summary>Starts to burn; gives the run, or the reason, for the person, why that is not possible.</summary>
    public (long? RunId, string? Problem) Burn(long id) => Start(id, view => (null, BurnerBay.ProblemOf(view.Burner)));

    /// <summary>Starts to write an image; gives the run, or the reason, for the person, why that is not possible.</summary>
    public (long? RunId, string? Problem) WriteImage(long id) =>
        Start(
            id,
            view => allowed.CheckOutputFolder(view.Settings.ImageFolder ?? options.Folders.Delivered) is var check
                && check.Path is { } folder
                ? (folder, null)
                : (null, check.Refusal));

    private (long? RunId, string? Problem) Start(long id, Func<AudioDiscView, (string? Folder, string? Problem)> check)
    {
        if (View(id) is not { } view)
            return (null, "This disc is no longer planned.");
        if (view.Problem is { } problem)
            return (null, problem);
        var (folder, refusal) = check(view);
        if (refusal is not null)
            return (null, refusal);
        return starts.Start(
            id,
            new NewRun(folder is null ? RunKind : ImageKind, view.Row.Title, folder is null ? view.Burner.Traits.Name : "image", folder),
            (connection, run) => AddItems(connection, run, view, isImage: folder is not null));
    }

    private static List<long> AddItems(IDbConnection connection, long run, AudioDiscView view, bool isImage)
    {
        var chosen = view.Settings;
        List<long> items = [
            .. view.Lines.Select(
                (line, index) =>
                    RunStore.InsertItem(
                        connection, run, index, PrepareTrackSpec.ItemFor(index, line.Track!, line.Title, line.Route!, chosen.Target)))
        ];
        List<long> ready = [.. items];
        var spec = new BurnDiscSpec(view.Row.Title, [.. view.Lines.Select(line => line.Burn!)], chosen);
        long length = (long)new Msf(view.Layout.LeadOut).Duration.TotalMilliseconds;
        long Add(ItemKind<BurnDiscSpec> kind, string lane, string title, int copy, IEnumerable<long> needed)
        {
            long item = RunStore.InsertItem(connection, run, items.Count, kind.New(lane, title, length, spec with { Copy = copy }));
            foreach (long other in needed)
                RunStore.InsertWait(connection, item, other, WaitReason.Success);
            items.Add(item);
            return item;
        }

        if (isImage)
        {
            Add(BurnImageHandler.ItemKind, Lane.Image, view.Row.Title, 1, ready);
            return items;
        }

        var lane = Lane.Drive(view.Burner.Letter);
        int copies = chosen.IsTrial ? 1 : chosen.Copies;
        long? before = null;
        for (int copy = 1; copy <= copies; copy++)
        {
            var title = copies > 1 ? $"{view.Row.Title}, copy {copy} of {copies}" : view.Row.Title;
            long burned = Add(BurnDiscHandler.ItemKind, lane, title, copy, ready);
            // Whatever became of the previous copy, the burner is busy with it until then.
            if (before is { } other)
                RunStore.InsertWait(connection, burned, other, WaitReason.Turn);
            before = chosen is { IsVerified: true, IsTrial: false } ? Add(BurnCheckHandler.ItemKind, lane, title, copy, [burned]) : burned;
        }

        return items;
    }

    private List<AudioDiscLine> LinesOf(IReadOnlyList<DeliveryItemRow> items, AudioDiscSettings chosen)
    {
        var tracks = library.TracksById([.. items.Select(item => item.TrackId).OfType<long>().Distinct()]).ToDictionary(track => track.Id);
        var sounds = library.KnownSoundsOf(tracks.Values.Select(track => track.Master.Id), chosen.Level == DiscLevel.DiscAsOne);
        var isrcs = library.ValuesOf(tracks.Values.Select(track => track.Master.Id), FieldNames.Isrc);
        return [.. items.Select(item =>
        {
            var own = AudioTrackSettings.Of(item);
            if (item.TrackId is not { } id || !tracks.TryGetValue(id, out var track) || track.Master.IsMissing)
                return new AudioDiscLine(item, own, item.TrackId is { } known ? tracks.GetValueOrDefault(known) : null, null, null, null);
            var route = RoutePlanner.Plan(
                track.Master.Facts, track.Master.Fidelity, chosen.Target, sounds.GetValueOrDefault(track.Master.Id));
            var burn = new BurnTrack(route.OutputFrames, own.Title ?? track.Title, own.Artist ?? track.Artist)
            {
                Album = track.AlbumTitle.Length > 0 ? track.AlbumId.ToString(System.Globalization.CultureInfo.InvariantCulture) : "",
                Isrc = own.Isrc ?? isrcs.GetValueOrDefault(track.Master.Id),
                PauseSectors = own.PauseSeconds is { } pause ? AudioDiscSettings.SectorsOf(pause) : null,
                Indexes = [.. own.Indexes.Select(seconds => (long)(seconds * AudioDisc.SectorsPerSecond * AudioDisc.FramesPerSector))],
            };
            return new AudioDiscLine(item, own, track, burn, route, null);
        })];
    }
}
