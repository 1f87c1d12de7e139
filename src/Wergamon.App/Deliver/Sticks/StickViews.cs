using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.Core.Sticks;
using Wergamon.Core.Sync;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>Compares sticks with the sets and albums that they should hold.</summary>
public sealed class StickViews(
    DeliveryStore store, StickStore files, StickLists lists, DeviceChoices devices, StickPlaces places, StickPlanner planner,
    StickPace pace, RunStore runs)
{
    /// <summary>What a stick should hold and has, as it is now. Nothing is written; see <see cref="Reconcile"/>.</summary>
    public StickView? View(long id) => Compare(id)?.View;

    /// <summary>
    /// Saves what a comparison of a stick has found: its path, the titles of its lists, interrupted changes that took place, files
    /// that count as written from here, sums of sounds that have been analysed since, and what is neither wanted nor there any more.
    /// </summary>
    /// <returns>The stick with all of that kept.</returns>
    public StickView? Reconcile(long id)
    {
        if (Compare(id) is not var (view, found))
            return null;
        if (!found.IsAnything)
            return view;
        if (found.Moved is { } moved)
            store.SetSettings(id, moved.ToJson());
        foreach (var (listId, title) in found.Titles)
            files.SetListTitle(listId, title);
        foreach (var key in found.TookPlace)
            files.Commit(id, key);
        foreach (var file in found.Imported)
            files.Adopt(id, file);
        files.Update(id, found.Analysed);
        foreach (var key in found.Vanished)
            files.Forget(id, key);
        return view with { IsReconciled = true, Settings = found.Moved ?? view.Settings };
    }

    private (StickView View, StickFindings Found)? Compare(long id)
    {
        if (store.Get(id) is not { Kind: DeliveryKind.Stick } row)
            return null;
        var stick = StickSettings.Of(row);
        var device = devices.Get(stick.DeviceKey);
        var resolved = lists.Resolve(id);
        var (place, onStick) = Look(stick);
        var (known, tookPlace) = files.Files(id, path => onStick.TryGetValue(path, out var stamp) ? stamp : null);
        var skipped = files.Skipped(id);
        var imports = files.Imports(id);
        var there = OfStickTime(known, onStick);
        var wish = planner.Plan(device, resolved, skipped, known);
        var imported = OwnImports(imports, wish, known, there);
        if (imported.Count > 0)
        {
            imported.ForEach(file => known.Add(file.File.Key, file));
            there = OfStickTime(known, onStick);
            wish = planner.Plan(device, resolved, skipped, known);
        }

        var written = known.Values.Select(file => file.File).ToList();
        var byKey = written.ToDictionary(file => file.Key);
        // Away, what was written counts as it was.
        if (place is null)
            there = written.ToDictionary(file => file.Path, file => file.Stamp);
        bool playsInOrder = device.Order == PlayOrder.ByWriting;
        var (named, playlists) = WithPlaylists(device, resolved, wish, byKey, there, playsInOrder);
        var plan = FolderComparison.Compare(named, byKey, there, playsInOrder);
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
            Paces = pace.Known(),
            Workers = pace.Workers,
            BytesPerSecond = pace.BytesPerSecond(id),
            FreeBytes = place is null ? null : FreeSpace.At(place),
            FoundFileSystem = place is null ? null : FreeSpace.FileSystemAt(place),
            SourcesMissing = wish.SourcesMissing,
            Skipped = skipped.Count,
            Imported = imports.Where(import => IsThere(import, there)).Select(import => import.Path).ToHashSet(),
        };
        var found = new StickFindings(
            place is null || place == stick.Place ? null : stick with { Place = place, Number = StickPlaces.NumberOf(place) },
            [.. resolved.Where(list => list.Title != list.Row.Title).Select(list => (list.Row.Id, list.Title))],
            tookPlace, imported,
            [.. plan.Steps.Where(step => step.Analysed is not null).Select(step => known[step.Key] with { File = step.Analysed! })],
            [.. plan.Vanished.Select(file => file.Key)]);
        return (view with { IsReconciled = !found.IsAnything }, found);
    }

    /// <summary>
    /// A file that came into the library from the stick and should be on it as it is does not get there a second time: it counts as written
    /// from here, and makes room for what the library has now.
    /// </summary>
    private static List<StickFile> OwnImports(
        IReadOnlyList<StickImport> imports, DesiredContents wish, Dictionary<SyncKey, StickFile> known,
        Dictionary<string, SyncStamp> there)
    {
        var owned = known.Values.Select(file => file.File.Path).ToHashSet(StringComparer.OrdinalIgnoreCase);
        var free = imports.Where(import => IsThere(import, there) && !owned.Contains(import.Path))
            .GroupBy(import => import.CopyPath)
            .ToDictionary(group => group.Key, group => group.First());
        long turn = known.Values.Select(file => file.File.Turn).DefaultIfEmpty().Max();
        var own = new List<StickFile>();
        foreach (var file in free.Count == 0 ? [] : wish.Files.Where(file => !known.ContainsKey(file.Key)))
        {
            // A file that several lists want counts for the first of them.
            if (wish.Tracks.GetValueOrDefault(file.Key) is { KeepsSound: true } track
                && free.Remove(track.Track.Master.Path, out var import))
                // The copy in the library may have been edited since: the file is written from it in its place.
                own.Add(new StickFile(new WrittenFile(file.Key, import.Path, null, "", import.Stamp, ++turn), track.Notes, track.Notes));
        }

        return own;
    }

    /// <summary>True while the file is unchanged since it was imported.</summary>
    private static bool IsThere(StickImport import, Dictionary<string, SyncStamp> there) =>
        there.TryGetValue(import.Path, out var stamp) && stamp == import.Stamp;

    /// <summary>Where a stick is, and what is on it.</summary>
    private (string? Place, Dictionary<string, SyncStamp> Files) Look(StickSettings stick)
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

    /// <summary>Files as they would be if the clock of the stick had not moved; where it has, what is known moves with it.</summary>
    private static Dictionary<string, SyncStamp> OfStickTime(
        Dictionary<SyncKey, StickFile> known, Dictionary<string, SyncStamp> there) =>
        StickClock.ShiftOf([.. known.Values.Select(file => file.File)], there) is var shift and not 0
            ? there.ToDictionary(file => file.Key, file => file.Value with { ModifiedAt = file.Value.ModifiedAt - shift })
            : there;

    /// <summary>Playlists name the files as they will be named, so that those are compared first.</summary>
    private static (IReadOnlyList<WantedFile> Files, Dictionary<SyncKey, StickPlaylist> Playlists) WithPlaylists(
        DeviceDescription device, IReadOnlyList<StickList> lists, DesiredContents wish, Dictionary<SyncKey, WrittenFile> written,
        Dictionary<string, SyncStamp> there, bool playsInOrder)
    {
        if (!device.HasPlaylists)
            return (wish.Files, []);
        var paths = FolderComparison.Compare(wish.Files, written, there, playsInOrder).Steps.Where(step => step.Wanted is not null)
            .ToDictionary(step => step.Key, step => step.Wanted!.Path);
        var playlists = StickPlanner.Playlists(device, lists, (list, trackId, occurrence) =>
            StickPlanner.KeyOf(device, list, trackId, occurrence) is var key && wish.Tracks.TryGetValue(key, out var track)
                ? (paths[key], track.Track)
                : null);
        return (
            [.. wish.Files, .. playlists.Select(each => each.File)], playlists.ToDictionary(each => each.File.Key, each => each.Playlist));
    }
}
