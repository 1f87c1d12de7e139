using Dapper;
using Wergamon.App.Storage;
using Wergamon.Core.Playlists;

namespace Wergamon.App.Sets;

/// <summary>A set made from a playlist.</summary>
/// <param name="SetId">Null where no track of it is in the library.</param>
/// <param name="NotFound">What is not in the library, in order.</param>
public sealed record ImportedSet(long? SetId, int Found, IReadOnlyList<PlaylistEntry> NotFound);

/// <summary>Sets as playlist files.</summary>
public sealed class SetPlaylists(Database database, SetStore store, MusicSets sets, TrackNotes notes)
{
    public Playlist Of(SetView view)
    {
        var marks = notes.Marks(view.Lines.Select(line => line.Track.TrackId));
        return new Playlist(
            view.Set.Title,
            [.. view.Lines.Select(line => line.Track).Select(track => new PlaylistEntry(track.Path, track.Title, track.Artist, track.Length)
        {
            Album = track.Album,
            Marks = [.. marks[track.TrackId].Select(mark => new PlaylistMark(mark.Seconds, mark.Title))],
        })])
        {
            Gap = TimeSpan.FromMilliseconds(view.Set.GapMs),
        };
    }

    /// <param name="title">For a list that has none. A number is appended if it is taken.</param>
    public ImportedSet Import(Playlist playlist, string title)
    {
        var files = Files();
        var matching = new PlaylistMatching(files);
        var entries = playlist.Entries.Select(entry => (Entry: entry, Track: matching.Find(entry))).ToList();
        var found = entries.Select(each => each.Track).OfType<long>().ToList();
        var missing = entries.Where(each => each.Track is null).Select(each => each.Entry).ToList();
        if (found.Count == 0)
            return new ImportedSet(null, 0, missing);
        long id = store.CreateNumbered(SetStore.TitleOf(playlist.Title) is { Length: > 0 } own ? own : title);
        sets.Add(id, found);
        if (playlist.Gap > TimeSpan.Zero)
            store.SetSpacing(id, (long)playlist.Gap.TotalMilliseconds, 0);
        var lengths = files.ToLookup(file => file.TrackId).ToDictionary(file => file.Key, file => file.Max(each => each.Length));
        foreach (var (entry, track) in entries.Where(each => each.Entry.Marks.Count > 0 && each.Track is not null)
            .DistinctBy(each => each.Track))
        {
            if (notes.Marks(track!.Value).Count == 0)
                notes.AddMarks(
                    track.Value,
                    entry.Marks.Where(mark => mark.Seconds <= lengths[track.Value].TotalSeconds)
                        .Select(mark => (mark.Seconds, mark.Title)));
        }

        return new ImportedSet(id, found.Distinct().Count(), missing);
    }

    private List<KnownFile> Files()
    {
        using var connection = database.Open();
        return [.. connection.Query<(long TrackId, string Path, string Title, string Artist, long LengthMs)>(
            "SELECT l.track_id, c.path, l.title, l.artist, l.length_ms FROM track_line l JOIN copy c ON c.track_id = l.track_id "
                + "WHERE NOT c.is_trashed")
            .Select(row => new KnownFile(row.TrackId, row.Path, row.Title, row.Artist, TimeSpan.FromMilliseconds(row.LengthMs)))];
    }
}
