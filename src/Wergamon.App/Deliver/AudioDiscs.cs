using System.Data;
using Wergamon.App.Files;
using Wergamon.App.Library;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Burning;
using Wergamon.Core.Planning;
using Wergamon.Core.Playlists;
using Wergamon.Core.Tags;
using Wergamon.Devices.Burners;

namespace Wergamon.App.Deliver;

/// <summary>Audio discs: planned from tracks of the library, written to a disc or to an image.</summary>
public sealed class AudioDiscs(Database database, DeliveryStore store, LibraryQueries library, RunStore runs, BurnerBay bay, AllowedPaths allowed, AppOptions options, Settings settings, Lazy<RunScheduler> scheduler)
{
    /// <summary>Names the runs.</summary>
    public const string RunKind = "burn";

    private const string ChoiceKey = "audio disc";

    /// <summary>Makes a plan of tracks, with the choices of the last one.</summary>
    /// <param name="title">Null to go by the album.</param>
    public long Create(string? title, IReadOnlyList<long> trackIds)
    {
        var tracks = library.TracksById(trackIds);
        var albums = tracks.Select(track => track.AlbumId).Distinct().ToList();
        var artists = tracks.Select(track => albums.Count == 1 ? track.AlbumArtist ?? track.Artist : track.Artist).Distinct(StringComparer.OrdinalIgnoreCase).ToList();
        var last = settings.Read(ChoiceKey, DeliverJson.Default.AudioDiscSettings) ?? new AudioDiscSettings();
        var made = last with { Artist = artists.Count == 1 ? artists[0] : DeliveryStore.ManyArtists, CatalogueNumber = "", IsFirstHidden = false, IsTrial = false, Copies = 1 };
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
        var text = chosen.HasText && places.Count > 0 ? DiscTextPacks.AsWritten(DiscImageWriter.TextOf(layout, row.Title, chosen.Artist), layout.Tracks.Count).Tracks : DiscText.None.Tracks;
        var burner = bay.Burner(chosen.Burner) ?? bay.Burners[0];
        var blank = burner.Disc is { CanBeWritten: true } inside ? inside.Blank : BlankDisc.Shelf.FirstOrDefault(each => each.Key == chosen.BlankKey)?.Blank ?? DiscBlank.Minutes80;
        var view = new AudioDiscView(
            row, chosen,
            [.. lines.Select(line => places.TryGetValue(line.Item.Id, out var place) ? line with { Place = place, Text = text.GetValueOrDefault(place.Number) } : line)],
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

    /// <summary>Changes how a disc is made; the next plan begins with the same.</summary>
    public void SetSettings(long id, AudioDiscSettings changed)
    {
        var (burner, speed) = bay.Usable(changed.Burner, changed.Speed);
        changed = changed with { Burner = burner, Speed = speed };
        store.SetSettings(id, changed.ToJson());
        settings.Write(ChoiceKey, changed, DeliverJson.Default.AudioDiscSettings);
    }

    public void Arrange(long id, Func<IReadOnlyList<long>, IReadOnlyList<long>> arrange) => store.Arrange(id, arrange);

    /// <summary>Splits a disc that is too long; gives all of them, or none where a single track is longer than a disc.</summary>
    public IReadOnlyList<long> Split(long id) => View(id) is { Split.Count: > 1 } view && view.Lines.All(line => !line.IsMissing) ? store.Split(id, view.Split) : [];

    /// <summary>Leaves out as few tracks as needed.</summary>
    public void LeaveOut(long id)
    {
        if (View(id) is not { } view)
            return;
        var gone = view.ToLeaveOut.Select(line => line.Item.Id).ToHashSet();
        store.Arrange(id, items => [.. items.Where(item => !gone.Contains(item))]);
    }

    /// <summary>Starts to burn; gives the run, or the reason, for the person, why that is not possible.</summary>
    public (long? RunId, string? Problem) Burn(long id) => Start(id, view =>
    {
        if (view.Burner.Disc is null)
            return (null, $"Put a blank disc into {view.Burner.Traits.Name} first.");
        return view.Burner.Disc.CanBeWritten ? (null, null) : (null, $"The disc in {view.Burner.Traits.Name} is {(view.Burner.Disc.Spoiled is null ? "written already" : "spoiled")}. Put a blank one in.");
    });

    /// <summary>Starts to write an image; gives the run, or the reason, for the person, why that is not possible.</summary>
    public (long? RunId, string? Problem) WriteImage(long id) => Start(id, view => allowed.CheckOutputFolder(view.Settings.ImageFolder ?? options.DeliveredFolder) is var check && check.Path is { } folder ? (folder, null) : (null, check.Refusal));

    private (long? RunId, string? Problem) Start(long id, Func<AudioDiscView, (string? Folder, string? Problem)> check)
    {
        if (View(id) is not { } view)
            return (null, "This disc is no longer planned.");
        if (view.Problem is { } problem)
            return (null, problem);
        var (folder, refusal) = check(view);
        if (refusal is not null)
            return (null, refusal);
        long? run = database.Change<long?>(connection => DeliveryStore.IsUnderWay(connection, id) ? null : Insert(connection, view, folder));
        if (run is null)
            return (null, "It is being written already.");
        scheduler.Value.Wake();
        return (run, null);
    }

    private long Insert(IDbConnection connection, AudioDiscView view, string? imageFolder)
    {
        var chosen = view.Settings;
        long run = runs.Insert(connection, new NewRun(RunKind, view.Row.Title, imageFolder is null ? view.Burner.Traits.Name : "image", imageFolder));
        DeliveryStore.InsertRun(connection, run, view.Row.Id);
        int position = 0;
        var ready = new List<long>();
        foreach (var (index, line) in view.Lines.Index())
            ready.Add(RunStore.InsertItem(connection, run, position++, PrepareTrackSpec.ItemFor(index, line.Track!, line.Title, line.Route!, chosen.Target)));
        var discSpec = new BurnDiscSpec(view.Row.Title, [.. view.Lines.Select(line => line.Burn!)], chosen);
        long length = (long)new Msf(view.Layout.LeadOut).Duration.TotalMilliseconds;
        var last = new List<long>();
        long Add(string kind, string lane, string title, BurnDiscSpec spec, long weight, IEnumerable<long> after)
        {
            long item = RunStore.InsertItem(connection, run, position++, new NewItem(kind, lane, title, weight, spec.ToJson()));
            foreach (long other in after)
                RunStore.InsertWait(connection, item, other, needsSuccess: true);
            last.Add(item);
            return item;
        }

        if (imageFolder is not null)
            Add(BurnImageHandler.ItemKind, Lane.Files, view.Row.Title, discSpec, length, ready);
        else
        {
            var before = ready;
            for (int copy = 1; copy <= (chosen.IsTrial ? 1 : chosen.Copies); copy++)
            {
                var spec = discSpec with { Copy = copy };
                var title = chosen.Copies > 1 && !chosen.IsTrial ? $"{view.Row.Title}, copy {copy} of {chosen.Copies}" : view.Row.Title;
                long burned = Add(BurnDiscHandler.ItemKind, Lane.Drive(view.Burner.Letter), title, spec, length, before);
                // The next copy waits until the disc is out again.
                before = [chosen is { IsVerified: true, IsTrial: false } ? Add(BurnCheckHandler.ItemKind, Lane.Drive(view.Burner.Letter), title, spec, length, [burned]) : burned];
            }
        }

        long end = RunStore.InsertItem(connection, run, position, new NewItem(DeliveryEndHandler.ItemKind, Lane.Files, "Clearing up", 0, "{}") { IsResult = false });
        foreach (long item in ready.Concat(last))
            RunStore.InsertWait(connection, end, item, needsSuccess: false);
        return run;
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
            var route = RoutePlanner.Plan(track.Master.Facts, track.Master.Fidelity, chosen.Target, sounds.GetValueOrDefault(track.Master.Id));
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
