using System.Data;
using System.Text.Json;
using Dapper;
using Wergamon.App.Library;
using Wergamon.App.Storage;
using Wergamon.Core.Music;

namespace Wergamon.App.Sets;

/// <summary>Sets and their items in the database.</summary>
public sealed class SetStore(Database database, TrackLines trackLines, TimeProvider time)
{
    /// <summary>Changes of a set that can be taken back.</summary>
    private const int MaxUndo = 200;

    private const int MaxTitle = 120;

    private const string SetSelect =
        """
        SELECT s.id, s.title, s.notes, s.gap_ms, s.crossfade_ms, COUNT(l.track_id) AS tracks, COALESCE(SUM(l.length_ms), 0) AS length_ms
        FROM music_set s LEFT JOIN set_item i ON i.set_id = s.id LEFT JOIN track_line l ON l.track_id = i.track_id
        """;

    private const string TrackColumns =
        """
        l.track_id, l.album_id, l.title, l.artist, l.album, l.disc, l.number, l.path, l.length_ms, l.rating, l.is_missing, l.tempo AS tagged_tempo, l.musical_key AS tagged_key,
        o.tempo AS own_tempo, o.musical_key AS own_key, o.energy AS own_energy,
        m.tempo AS measured_tempo, m.slowest, m.fastest, m.tempo_confidence, m.musical_key AS measured_key, m.key_confidence, m.onsets, m.brightness,
        m.copy_id IS NOT NULL AS is_analysed, c.id AS copy_id, a.loudness
        """;

    /// <summary>A track with the copy that its line stands for, and the music of whichever copy has been analysed.</summary>
    private const string TrackJoins =
        """
        JOIN copy c ON c.path = l.path
        LEFT JOIN music m ON m.copy_id = (SELECT x.copy_id FROM music x JOIN copy y ON y.id = x.copy_id WHERE y.track_id = l.track_id AND x.failure IS NULL ORDER BY x.copy_id LIMIT 1)
        LEFT JOIN analysis a ON a.copy_id = c.id
        LEFT JOIN track_own o ON o.track_id = l.track_id
        """;

    public IReadOnlyList<SetRow> List()
    {
        trackLines.RefreshForPage();
        return database.Read("sets", connection => connection.Query<SetRow>(SetSelect + " GROUP BY s.id ORDER BY s.title COLLATE NOCASE").AsList());
    }

    public int Count() => database.Read("set count", connection => connection.ExecuteScalar<int>("SELECT COUNT(*) FROM music_set"));

    public SetRow? Get(long id)
    {
        trackLines.RefreshForPage();
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<SetRow>(SetSelect + " WHERE s.id = @id GROUP BY s.id", new { id });
    }

    /// <summary>A title as it is kept: one line, not too long.</summary>
    public static string TitleOf(string? typed)
    {
        var title = (typed ?? "").ReplaceLineEndings(" ").Trim();
        return title.Length <= MaxTitle ? title : title[..(char.IsHighSurrogate(title[MaxTitle - 1]) ? MaxTitle - 1 : MaxTitle)].TrimEnd();
    }

    /// <summary>Null when a set has this title already.</summary>
    /// <param name="title">As <see cref="TitleOf"/> gives it.</param>
    public long? Create(string title) => database.Change(connection => connection.QueryFirstOrDefault<long?>(
        "INSERT INTO music_set (title, created_at) VALUES (@title, @now) ON CONFLICT DO NOTHING RETURNING id", new { title, now = time.GetUtcNow().ToUnixTimeMilliseconds() }));

    /// <summary>False when another set has this title.</summary>
    public bool Rename(long id, string title) => database.Change(connection => connection.Execute("UPDATE OR IGNORE music_set SET title = @title WHERE id = @id", new { id, title }) > 0);

    public void SetSpacing(long id, long gapMs, long crossfadeMs) => database.Change(connection => connection.Execute(
        "UPDATE music_set SET gap_ms = @gapMs, crossfade_ms = @crossfadeMs WHERE id = @id", new { id, gapMs, crossfadeMs }));

    public void SetNotes(long id, string notes) => database.Change(connection => connection.Execute("UPDATE music_set SET notes = @notes WHERE id = @id", new { id, notes }));

    public void Remove(long id) => database.Change(connection => connection.Execute("DELETE FROM music_set WHERE id = @id", new { id }));

    /// <summary>What a person says of a track; null for what was measured or tagged.</summary>
    public void SetOwn(long trackId, double? tempo, MusicalKey? key, int? energy) => database.Change(connection => connection.Execute(
        """
        INSERT INTO track_own (track_id, tempo, musical_key, energy) SELECT id, @tempo, @key, @energy FROM track WHERE id = @trackId
        ON CONFLICT (track_id) DO UPDATE SET tempo = excluded.tempo, musical_key = excluded.musical_key, energy = excluded.energy
        """,
        new { trackId, tempo, key = key?.ToString(), energy }));

    /// <summary>The tracks of a set in order, each with its item.</summary>
    internal List<(long ItemId, SetTrack Track)> Lines(long setId)
    {
        using var connection = database.Open();
        return connection.Query<long, SetTrack, (long, SetTrack)>(
            $"SELECT i.id, {TrackColumns} FROM set_item i JOIN track_line l ON l.track_id = i.track_id {TrackJoins} WHERE i.set_id = @setId ORDER BY i.position",
            (item, track) => (item, track), new { setId }, splitOn: "track_id").AsList();
    }

    /// <summary>Tracks of the library, whether in a set or not.</summary>
    /// <param name="condition">In terms of l (the line), o (the person's own figures) and m (the measured ones).</param>
    internal List<SetTrack> Tracks(string condition, object parameters)
    {
        using var connection = database.Open();
        return connection.Query<SetTrack>($"SELECT {TrackColumns} FROM track_line l {TrackJoins} WHERE {condition}", parameters).AsList();
    }

    /// <summary>Changes the items of a set, so that it can be taken back.</summary>
    /// <param name="title">What is done, in words.</param>
    /// <param name="change">Gets the items in order and gives them in the new order; new ones have item 0. The same list changes nothing.</param>
    /// <returns>False for a set that is not there, or without a change.</returns>
    internal bool Change(long setId, string title, Func<IReadOnlyList<SetItem>, IReadOnlyList<SetItem>> change) => database.Change(connection =>
    {
        if (!connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM music_set WHERE id = @setId)", new { setId }))
            return false;
        var before = ItemsOf(connection, setId);
        var after = change(before);
        if (after.SequenceEqual(before))
            return false;
        connection.Execute(
            "INSERT INTO set_change (set_id, title, before) VALUES (@setId, @title, @before)",
            new { setId, title, before = JsonSerializer.Serialize([.. before.Select(item => new[] { item.Id, item.TrackId })], SetsJson.Default.Int64ArrayArray) });
        connection.Execute(
            "DELETE FROM set_change WHERE set_id = @setId AND id NOT IN (SELECT id FROM set_change WHERE set_id = @setId ORDER BY id DESC LIMIT @MaxUndo)", new { setId, MaxUndo });
        Write(connection, setId, before, after);
        return true;
    });

    /// <summary>Takes the last change back; false where there is none. Tracks that are no longer in the library stay out.</summary>
    internal bool Undo(long setId) => database.Change(connection =>
    {
        var last = connection.QueryFirstOrDefault<(long Id, string Before)>("SELECT id, before FROM set_change WHERE set_id = @setId ORDER BY id DESC LIMIT 1", new { setId });
        if (last.Before is null)
            return false;
        var before = JsonSerializer.Deserialize(last.Before, SetsJson.Default.Int64ArrayArray) ?? [];
        var there = connection.Query<long>("SELECT id FROM track WHERE id IN (SELECT value FROM json_each(@list))", new { list = ListOf(before.Select(pair => pair[1])) }).ToHashSet();
        Write(connection, setId, ItemsOf(connection, setId), [.. before.Where(pair => there.Contains(pair[1])).Select(pair => new SetItem(pair[0], pair[1]))]);
        connection.Execute("DELETE FROM set_change WHERE id = @Id", new { last.Id });
        return true;
    });

    internal string? LastChange(long setId)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<string?>("SELECT title FROM set_change WHERE set_id = @setId ORDER BY id DESC LIMIT 1", new { setId });
    }

    private static List<SetItem> ItemsOf(IDbConnection connection, long setId) =>
        connection.Query<SetItem>("SELECT id, track_id FROM set_item WHERE set_id = @setId ORDER BY position", new { setId }).AsList();

    private static void Write(IDbConnection connection, long setId, IReadOnlyList<SetItem> before, IReadOnlyList<SetItem> after)
    {
        var kept = after.Select(item => item.Id).ToHashSet();
        connection.Execute("DELETE FROM set_item WHERE id IN (SELECT value FROM json_each(@list))", new { list = ListOf(before.Select(item => item.Id).Where(id => !kept.Contains(id))) });
        var known = before.Select(item => item.Id).ToHashSet();
        // One statement for all that only move.
        connection.Execute(
            """
            UPDATE set_item SET position = place.position
            FROM (SELECT value AS id, key AS position FROM json_each(@list)) place WHERE set_item.id = place.id AND set_item.position <> place.position
            """,
            new { list = ListOf(after.Select(item => item.Id)) });
        connection.Execute(
            "INSERT INTO set_item (id, set_id, position, track_id) VALUES (@id, @setId, @position, @TrackId)",
            after.Select((item, position) => (item, position)).Where(each => !known.Contains(each.item.Id))
                .Select(each => new { id = each.item.Id == 0 ? (long?)null : each.item.Id, setId, each.position, each.item.TrackId }).ToList());
    }

    private static string ListOf(IEnumerable<long> numbers) => "[" + string.Join(',', numbers) + "]";
}

/// <summary>A place in a set; <paramref name="Id"/> is 0 before it is stored.</summary>
internal readonly record struct SetItem(long Id, long TrackId);
