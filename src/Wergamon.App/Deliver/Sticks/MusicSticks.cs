using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;
using Wergamon.Core.Naming;
using Wergamon.Core.Sticks;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>
/// Sticks: remembered by a mark on them, compared with the sets and albums that they should hold, and brought up to date.
/// </summary>
public sealed class MusicSticks(
    Database database, DeliveryStore store, StickStore files, DeliveryRuns starts, DeviceChoices devices, StickPlaces places,
    LibraryQueries library, LibraryParts parts, ITrackLists lists, ITrackNotes notes,
    RunStore runs, DeliverySpool spool, MusicFolders folders, WorkLoad load, StickSpeeds speeds, AllowedPaths allowed)
{
    public static readonly RunKind RunKind = new("stick", Station.Deliver, "Updating", "done");

    /// <summary>The runs that copy music from a stick into the library.</summary>
    public static readonly RunKind ImportKind = new("stick-import", Station.Deliver, "Copying", "copied")
    {
        SaysSummary = run => $"{run.CountResults("file")} into the library"
    };

    private readonly StickPlanner _planner = new(database, library, notes);

    /// <summary>The sticks that are known.</summary>
    public IReadOnlyList<DeliveryRow> List() =>
        [.. store.List().Where(row => row.Kind == DeliveryKind.Stick).OrderBy(row => row.Title, StringComparer.OrdinalIgnoreCase)];

    public bool IsThere(DeliveryRow row) => places.Find(StickSettings.Of(row)) is not null;

    /// <summary>
    /// Remembers the stick at a place; one that is known already is that one. Gives the reason, for the person, when it cannot be used.
    /// </summary>
    /// <param name="title">Null for the name of its folder.</param>
    public (long? Id, string? Problem) Add(string? place, string? title, string deviceKey)
    {
        var check = Check(place);
        if (check.Path is not { } path)
            return (null, check.Refusal);
        var mark = StickPlaces.MarkAt(path);
        if (mark is not null && List().FirstOrDefault(row => StickSettings.Of(row).Mark == mark.Stick) is { } known)
        {
            store.SetSettings(known.Id, (StickSettings.Of(known) with { Place = path, Number = StickPlaces.NumberOf(path) }).ToJson());
            return (known.Id, null);
        }

        var name = DeliveryStore.TitleOf(title) is { Length: > 0 } given ? given : DeliveryStore.TitleOf(Path.GetFileName(path));
        // The mark of a stick that another library has made stays: both know it.
        mark ??= new StickMark(Guid.NewGuid().ToString("N"), name);
        try
        {
            places.WriteMark(path, mark);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            return (null, $"{path} cannot be written to: {failure.Message}");
        }

        return (
            store.Create(
                DeliveryKind.Stick, name,
                new StickSettings(path, mark.Stick, devices.Get(deviceKey).Key) { Number = StickPlaces.NumberOf(path) }.ToJson(), []),
            null);
    }

    /// <summary>The stick is now at another place; gives the reason, for the person, when that is not so.</summary>
    public string? SetPlace(long id, string? place)
    {
        if (store.Get(id) is not { Kind: DeliveryKind.Stick } row)
            return "This stick is no longer known.";
        var check = Check(place);
        if (check.Path is not { } path)
            return check.Refusal;
        var stick = StickSettings.Of(row);
        if (StickPlaces.MarkAt(path)?.Stick != stick.Mark)
            return $"“{row.Title}” is not at {path}. For another stick, add it in Deliver.";
        store.SetSettings(id, (stick with { Place = path, Number = StickPlaces.NumberOf(path) }).ToJson());
        return null;
    }

    public void SetDevice(long id, string deviceKey)
    {
        if (store.Get(id) is { Kind: DeliveryKind.Stick } row)
            store.SetSettings(id, (StickSettings.Of(row) with { DeviceKey = devices.Get(deviceKey).Key }).ToJson());
    }

    /// <summary>A set goes onto the stick and is followed from now on.</summary>
    public void AddSet(long id, long listId)
    {
        if (lists.Get(listId) is { } list)
            files.AddList(id, list.Title, listId, null);
    }

    /// <summary>A part of the library goes onto the stick and is followed from now on.</summary>
    /// <param name="title">Null to go by the album.</param>
    public void AddPart(long id, string? title, LibraryPart part)
    {
        var tracks = parts.TracksOf(part);
        if (tracks.Count > 0)
            files.AddList(id, store.TitleFor(title, [.. tracks.Select(track => track.Id)]), null, part);
    }

    /// <summary>What a stick should hold and has, as it is now. Nothing is written; see <see cref="Reconcile"/>.</summary>
    public StickView? View(long id) => Compare(id)?.View;

    /// <summary>
    /// Keeps what a look at a stick has found: its place, the titles of its lists, changes that were cut off and have taken place, files
    /// that count as written from here, and sums of sounds that have been analysed since.
    /// </summary>
    public void Reconcile(long id)
    {
        if (Compare(id) is not { Found: { IsAnything: true } found })
            return;
        if (found.Moved is { } moved)
            store.SetSettings(id, moved.ToJson());
        foreach (var (listId, title) in found.Titles)
            files.SetListTitle(listId, title);
        foreach (var key in found.TookPlace)
            files.Commit(id, key);
        foreach (var file in found.Imported)
            files.Adopt(id, file);
        files.Update(id, found.Analysed);
    }

    private (StickView View, StickFindings Found)? Compare(long id)
    {
        if (store.Get(id) is not { Kind: DeliveryKind.Stick } row)
            return null;
        var stick = StickSettings.Of(row);
        var device = devices.Get(stick.DeviceKey);
        var resolved = Resolve(id);
        var (place, onStick) = Look(stick);
        var (known, tookPlace) = files.Files(id, path => onStick.TryGetValue(path, out var stamp) ? stamp : null);
        var skipped = files.Skipped(id);
        var imports = files.Imports(id);
        var there = OfStickTime(known, onStick);
        var wish = _planner.Plan(device, resolved, skipped, known);
        var imported = OwnImports(imports, wish, known, there);
        if (imported.Count > 0)
        {
            imported.ForEach(file => known.Add(file.File.Key, file));
            there = OfStickTime(known, onStick);
            wish = _planner.Plan(device, resolved, skipped, known);
        }

        foreach (var file in wish.Adopted)
            known[file.File.Key] = file;
        var written = known.Values.Select(file => file.File).ToList();
        var byKey = written.ToDictionary(file => file.Key);
        // Away, what was written counts as it was.
        if (place is null)
            there = written.ToDictionary(file => file.Path, file => file.Stamp);
        bool playsInOrder = device.Order == PlayOrder.ByWriting;
        var (named, playlists) = WithPlaylists(device, resolved, wish, byKey, there, playsInOrder);
        var plan = StickComparison.Compare(named, byKey, there, playsInOrder);
        var lines = plan.Steps.Select(
            step =>
                new StickLine(step)
                {
                    Track = wish.Tracks.GetValueOrDefault(step.Key),
                    Playlist = playlists.GetValueOrDefault(step.Key),
                    Known = known.GetValueOrDefault(step.Key)
                }).ToList();
        var view = new StickView(
            row, stick, device, resolved, place, lines,
            [.. plan.Foreign.Where(path => !path.StartsWith(StickItems.AsidePrefix, StringComparison.Ordinal))])
        {
            Run = store.LatestRun(id) is { } run ? runs.Get(run) : null,
            Paces = Paces(),
            Workers = load.Workers,
            BytesPerSecond = speeds.Of(id),
            FreeBytes = place is null ? null : FreeSpace.At(place),
            FoundFileSystem = place is null ? null : FreeSpace.FileSystemAt(place),
            NotAnalysed = wish.NotAnalysed,
            SourcesMissing = wish.SourcesMissing,
            Skipped = skipped.Count,
            Imported = imports.Where(import => IsThere(import, there)).Select(import => import.Path).ToHashSet(),
        };
        var found = new StickFindings(
            place is null || place == stick.Place ? null : stick with { Place = place, Number = StickPlaces.NumberOf(place) },
            [.. resolved.Where(list => list.Title != list.Row.Title).Select(list => (list.Row.Id, list.Title))],
            tookPlace, imported, wish.Adopted);
        return (view with { IsReconciled = !found.IsAnything }, found);
    }

    /// <summary>Starts to bring a stick up to date; gives the run, or the reason, for the person, why that is not possible.</summary>
    public (long? RunId, string? Problem) Update(long id)
    {
        Reconcile(id);
        if (View(id) is not { } view)
            return (null, "This stick is no longer known.");
        if (view.Problem is { } problem)
            return (null, problem);
        if (view.ToDo.Count == 0)
            return (null, "Everything on the stick is up to date.");
        return starts.Start(
            id, new NewRun(RunKind, view.Row.Title, view.Device.Name, view.Place),
            (connection, run) => StickItems.Insert(connection, run, view, notes, spool.FolderOf(run)));
    }

    /// <summary>
    /// Starts to copy music that somebody put on the stick into a music folder, below a folder named after the stick; gives the run, or the
    /// reason, for the person, why that is not possible.
    /// </summary>
    /// <param name="paths">On the stick; what is not foreign there is skipped.</param>
    public (long? RunId, string? Problem) Import(long id, long folderId, IReadOnlyCollection<string> paths)
    {
        if (View(id) is not { Place: { } place } view)
            return (null, "This stick is not connected. Plug it in again.");
        if (folders.List().FirstOrDefault(each => each.Id == folderId) is not { IsThere: true } folder)
            return (null, "This music folder is missing.");
        var chosen = view.Foreign.Where(paths.Contains).ToList();
        if (chosen.Count == 0)
            return (null, "None of the picked files is still on the stick.");
        var top = Path.Combine(folder.Path, SafeFileName.From(view.Row.Title));
        return starts.Start(id, new NewRun(ImportKind, view.Row.Title, "into the library", folder.Path), (connection, run) =>
            [
                .. chosen.Select(
                    (path, position) => RunStore.InsertItem(
                        connection, run, position,
                        StickImportHandler.ItemKind.New(
                            Lane.Stick(id), Path.GetFileNameWithoutExtension(path),
                            1 + StickItems.WeightOf(PlainFile.Length(Path.Combine(place, path))),
                new StickImportSpec(place, view.Settings.Mark, path, folderId, Path.Combine(top, path)) { StickId = id })))]);
    }

    /// <summary>
    /// A file that came into the library from the stick and should be on it as it is does not get there a second time: it counts as written
    /// from here, and makes room for what the library has now.
    /// </summary>
    private static List<StickFile> OwnImports(
        IReadOnlyList<StickImport> imports, DesiredContents wish, Dictionary<string, StickFile> known,
        Dictionary<string, StickStamp> there)
    {
        var owned = known.Values.Select(file => file.File.Path).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var free = imports.Where(import => IsThere(import, there) && !owned.Contains(import.Path))
            .GroupBy(import => import.CopyPath)
            .ToDictionary(group => group.Key, group => group.First());
        long turn = known.Values.Select(file => file.File.Turn).DefaultIfEmpty().Max();
        var own = new List<StickFile>();
        foreach (var file in free.Count == 0 ? [] : wish.Files.Where(file => !known.ContainsKey(file.Key)))
        {
            // A file that several lists want stands for the first of them.
            if (wish.Tracks.GetValueOrDefault(file.Key) is { KeepsSound: true } track
                && free.Remove(track.Track.Master.Path, out var import))
                // The copy in the library may have been edited since: the file is written from it in its place.
                own.Add(new StickFile(new WrittenFile(file.Key, import.Path, "", "", import.Stamp, ++turn), track.Notes, track.Notes));
        }

        return own;
    }

    /// <summary>True while the file is what it was when it was copied.</summary>
    private static bool IsThere(StickImport import, Dictionary<string, StickStamp> there) =>
        there.TryGetValue(import.Path, out var stamp) && stamp == import.Stamp;

    /// <summary>Where a stick is, and what is on it.</summary>
    private (string? Place, Dictionary<string, StickStamp> Files) Look(StickSettings stick)
    {
        if (places.Find(stick) is not { } place)
            return (null, []);
        try
        {
            return (place, StickPlaces.FilesAt(place));
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            // Taken away while it was read.
            return (null, []);
        }
    }

    private Dictionary<string, double> Paces()
    {
        using var connection = database.Open();
        return Throughput.Known(connection);
    }

    /// <summary>The lists of a stick with their tracks as they are now.</summary>
    private List<StickList> Resolve(long id)
    {
        var folders = new HashSet<string>(StringComparer.OrdinalIgnoreCase) { StickPlanner.PlaylistFolder };
        var resolved = new List<StickList>();
        foreach (var row in files.Lists(id))
        {
            var list = row.ReadPart() is { } part ? new StickList(row, row.Title, parts.IdsOf(part), true)
                : row.ListId is { } set && lists.Get(set) is { } listing ? new StickList(row, listing.Title, listing.TrackIds, true)
                : new StickList(row, row.Title, [], false);
            var folder = SafeFileName.From(list.Title);
            for (int number = 2; !folders.Add(folder); number++)
                folder = SafeFileName.From(FormattableString.Invariant($"{list.Title} ({number})"));
            resolved.Add(list with { Folder = folder });
        }

        return resolved;
    }

    /// <summary>Files as they would be if the clock of the stick had not moved; where it has, what is known moves with it.</summary>
    private static Dictionary<string, StickStamp> OfStickTime(Dictionary<string, StickFile> known, Dictionary<string, StickStamp> there) =>
        StickClock.ShiftOf([.. known.Values.Select(file => file.File)], there) is var shift and not 0
            ? there.ToDictionary(file => file.Key, file => file.Value with { ModifiedAt = file.Value.ModifiedAt - shift })
            : there;

    /// <summary>Playlists name the files as they will be named, so that those are compared first.</summary>
    private static (IReadOnlyList<WantedFile> Files, Dictionary<string, StickPlaylist> Playlists) WithPlaylists(
        DeviceDescription device, IReadOnlyList<StickList> lists, DesiredContents wish, Dictionary<string, WrittenFile> written,
        Dictionary<string, StickStamp> there, bool playsInOrder)
    {
        if (!device.HasPlaylists)
            return (wish.Files, []);
        var paths = StickComparison.Compare(wish.Files, written, there, playsInOrder).Steps.Where(step => step.Wanted is not null)
            .ToDictionary(step => step.Key, step => step.Wanted!.Path);
        var playlists = StickPlanner.Playlists(device, lists, (list, trackId, occurrence) =>
            StickPlanner.KeyOf(device, list, trackId, occurrence) is var key && wish.Tracks.TryGetValue(key, out var track)
                ? (paths[key], track.Track)
                : null);
        return (
            [.. wish.Files, .. playlists.Select(each => each.File)], playlists.ToDictionary(each => each.File.Key, each => each.Playlist));
    }

    private PathCheck Check(string? place)
    {
        var check = allowed.CheckOutputFolder(place);
        if (check.Path is not { } path)
            return check;
        if (!PlainFolder.Exists(path))
            return new PathCheck(null, $"There is no folder {path}. Plug the stick in, or choose another folder.");
        // What is written to the stick must not come into the library as more copies.
        return folders.List()
            .FirstOrDefault(folder => AllowedPaths.IsBelow(path, folder.Path) || AllowedPaths.IsBelow(folder.Path, path)) is { } music
            ? new PathCheck(null, $"{path} shares files with the music folder {music.Path}. Choose a folder outside of the music folders.")
            : check;
    }
}
