using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Playlists;
using Wergamon.Core.Sticks;
using Wergamon.Core.Sync;
using Wergamon.Core.Tags;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>Reads back what was changed on a device, and applies what the person chooses.</summary>
public sealed class StickReading(
    StickViews sticks, StickGuard gate, StickStore store, LibraryQueries library, ITrackLists lists, ITrackNotes notes,
    ChangeBackups backups)
{
    private const int MaxPlaylistBytes = 4 << 20;

    private static readonly HashSet<string> MusicExtensions = new(
        FileFormats.Writable.Select(format => format.Extension).Concat([".aif", ".wma", ".mp4", ".ape", ".oga"]),
        StringComparer.OrdinalIgnoreCase);

    public StickChanges Read(StickView view)
    {
        if (view.Place is not { } place)
            return new StickChanges([], [], [], []);
        var changed = view.Lines.Where(line => line.Step.State == SyncState.ChangedThere).ToList();
        var paths = PathsOf(view);
        return new StickChanges(
            [.. changed.Where(line => line.Playlist is null).Select(line => ReadFile(place, line))],
            [
                .. changed.Where(line => line.Playlist is not null)
                    .Select(line => ReadPlaylist(place, line, paths))
                    .OfType<StickListChange>()
            ],
            [.. view.Lines.Where(line => line.Step.State == SyncState.Deleted && !line.IsPlaylist)],
            [.. view.Foreign.Where(path => MusicExtensions.Contains(Path.GetExtension(path)) && !view.Imported.Contains(path))]);
    }

    /// <summary>Applies the person's choices; undecided changes stay open.</summary>
    public void Apply(long stickId, IReadOnlyList<StickDecision> decisions)
    {
        if (sticks.Reconcile(stickId) is not { Place: { } place } view)
            return;
        if (decisions.Count > 0)
            backups.Start();
        var changes = Read(view);
        foreach (var group in decisions.GroupBy(decision => decision.Key))
        {
            var chosen = group.DistinctBy(decision => decision.What)
                .ToDictionary(decision => decision.What, decision => decision.TakesThere);
            if (changes.Files.FirstOrDefault(file => file.Line.Step.Key == group.Key) is { } file)
                Decide(stickId, place, file, chosen);
            else if (changes.Lists.FirstOrDefault(list => list.Line.Step.Key == group.Key) is { } list
                && chosen.TryGetValue(StickDecision.Order, out bool takesOrder))
                Decide(stickId, place, view.Row.Title, list, takesOrder);
            else if (changes.Deleted.FirstOrDefault(line => line.Step.Key == group.Key) is { } deleted
                && chosen.GetValueOrDefault(StickDecision.Deletion))
                Exclude(stickId, deleted);
        }

        // What was applied is what the library says now, so it need not be written again.
        if (sticks.View(stickId) is { } after)
            store.Update(
                stickId,
                [
                    .. after.Lines.Where(line => line.Step.State == SyncState.Tags && IsAsWanted(line))
                        .Select(line => line.Known! with { File = line.Known.File with { Tags = line.Step.Wanted!.Tags } })
                ]);
    }

    private static StickFileChange ReadFile(string place, StickLine line)
    {
        if (line.Track is null || line.Known is not { } known)
            return new StickFileChange(line, [], null);
        try
        {
            using var stream = PlainFile.OpenRead(Path.Combine(place, line.Step.Written!.Path));
            return new StickFileChange(
                line,
                StickNoteComparison.Compare(known.Sent, known.Held, line.Track.Notes, StickNotes.Of(FileReading.ReadTags(stream).Tags)),
                null);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException or UnreadableAudioException)
        {
            return new StickFileChange(line, [], failure.Message);
        }
    }

    private static StickListChange? ReadPlaylist(string place, StickLine line, Dictionary<string, (long TrackId, string Title)> paths)
    {
        if (line.Playlist is not { } wanted)
            return null;
        var path = line.Step.Written!.Path;
        var full = Path.Combine(place, path);
        var read = PlainFile.Length(full) <= MaxPlaylistBytes ? PlaylistFormat.ReadAny(PlainFile.ReadAll(full, MaxPlaylistBytes)) : null;
        var there = (read?.Entries ?? []).Select(
            entry => paths.TryGetValue(OnStick(path, entry.Path), out var known)
                ? new StickEntry(known.TrackId, known.Title)
                : new StickEntry(null, entry.Title.Length > 0 ? entry.Title : entry.Path)).ToList();
        var here = wanted.Playlist.Entries.Select(
                entry => paths.TryGetValue(OnStick(path, entry.Path), out var known) ? new StickEntry(known.TrackId, known.Title) : null)
            .OfType<StickEntry>()
            .ToList();
        return new StickListChange(line, here, there, line.Step.Wanted?.Sound != line.Step.Written.Sound);
    }

    private void Decide(long stickId, string place, StickFileChange change, Dictionary<string, bool> chosen)
    {
        var (line, known) = (change.Line, change.Line.Known!);
        if (line.Step.Wanted is null)
        {
            DecideUnlisted(stickId, place, known, chosen);
            return;
        }

        var (held, sent, file) = (known.Held, known.Sent, known.File);
        var left = change.Notes.ToList();
        foreach (var note in change.Notes.Where(note => chosen.ContainsKey(note.Field)))
        {
            if (chosen[note.Field])
            {
                notes.Take(line.Track!.Track.Id, new TagField(note.Field, note.There));
                sent = sent.With(note.Field, note.There);
            }
            else
            {
                // The next update overwrites it with the library's values.
                file = file with { Tags = "" };
            }

            held = held.With(note.Field, note.There);
            left.Remove(note);
        }

        if (change.Notes.Count == 0 && chosen.TryGetValue(StickDecision.File, out bool keepsThere) && !keepsThere)
            file = file with { Sound = null };
        bool isDecided = left.Count == 0 && (change.Notes.Count > 0 || chosen.ContainsKey(StickDecision.File));
        if (isDecided && gate.StampAt(stickId, place, file.Path) is { } stamp)
            file = file with { Stamp = stamp };
        store.Update(stickId, [new StickFile(file, sent, held)]);
    }

    /// <summary>A file that no list has any more is either left to its owner from now on, or removed by the next update.</summary>
    private void DecideUnlisted(long stickId, string place, StickFile known, Dictionary<string, bool> chosen)
    {
        if (!chosen.TryGetValue(StickDecision.File, out bool keepsThere))
            return;
        if (keepsThere)
            store.Forget(stickId, known.File.Key);
        else if (gate.StampAt(stickId, place, known.File.Path) is { } stamp)
            store.Update(stickId, [known with { File = known.File with { Stamp = stamp } }]);
    }

    private void Decide(long stickId, string place, string title, StickListChange change, bool takesThere)
    {
        if (takesThere)
        {
            var list = change.Line.Playlist!.List;
            long[] there = [.. change.There.Select(entry => entry.TrackId).OfType<long>()];
            // Only the order is applied: what is not on the stick stays in the set.
            if (list.Row.ListId is not { } set || lists.Get(set) is not { } own
                || !lists.SetTracks(set, Ordering.Adopt(own.TrackIds, there), $"order taken from “{title}”"))
                store.FixList(list.Row.Id, there);
        }

        var known = change.Line.Known!;
        if (gate.StampAt(stickId, place, known.File.Path) is { } stamp)
            store.Update(stickId, [known with { File = known.File with { Stamp = stamp, Sound = null } }]);
    }

    private void Exclude(long stickId, StickLine line)
    {
        if (line.Track is not { } track)
            return;
        store.Skip(stickId, track.Track.Id);
        store.Forget(stickId, line.Step.Key);
    }

    /// <summary>True for a file that holds the library's values and differs in nothing else that is known.</summary>
    private static bool IsAsWanted(StickLine line) =>
        line is { Known: { File.Tags.Length: > 0 } known, Track: { } track }
            && StickPlanner.DiffersInNotesAlone(known.File.Tags, line.Step.Wanted!.Tags)
        && StickNotes.Fields.All(field => known.Held.HasSame(field, track.Notes) || known.Sent.HasSame(field, track.Notes));

    /// <summary>Tracks by the paths of their files on the stick.</summary>
    private Dictionary<string, (long TrackId, string Title)> PathsOf(StickView view)
    {
        var known = view.Lines.Where(line => line is { IsPlaylist: false, Step.Written: not null })
            .Select(line => (line.Step.Written!.Path, TrackId: line.Step.Key.TrackId!.Value))
            .ToList();
        var titles = library.TracksById([.. known.Select(each => each.TrackId).Distinct()])
            .DistinctBy(track => track.Id)
            .ToDictionary(track => track.Id, track => track.Title);
        var paths = new Dictionary<string, (long, string)>(StringComparer.OrdinalIgnoreCase);
        foreach (var (path, trackId) in known.Where(each => titles.ContainsKey(each.TrackId)))
            paths[path] = (trackId, titles[trackId]);
        // New ones are named as they will be.
        foreach (var line in view.Lines.Where(line => line is { Track: not null, IsPlaylist: false }))
            paths.TryAdd(line.Path, (line.Track!.Track.Id, line.Title));
        return paths;
    }

    /// <summary>
    /// A path in a playlist, from the top of the stick; devices write it relative to the list or to the top.
    /// </summary>
    private static string OnStick(string playlist, string path)
    {
        var plain = path.Replace('\\', '/');
        if (plain is [_, ':', '/', ..])
            plain = plain[2..];
        var full = Path.GetFullPath(plain, "/" + Path.GetDirectoryName(playlist));
        return full.TrimStart('/');
    }
}
