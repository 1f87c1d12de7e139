using System.Data;
using System.Globalization;
using System.Text.Json;
using Dapper;
using Microsoft.Data.Sqlite;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Bytes;

namespace Wergamon.App.Sets;

/// <summary>Sets and their items in the database.</summary>
public sealed class SetStore(Database database, TrackLines trackLines, ChangeBackups backups, TimeProvider time)
{
    /// <summary>Changes of a set that can be undone.</summary>
    private const int MaxUndo = 200;

    private const int MaxTitle = 120, MaxDepth = 8;

    private const string SetSelect =
        """
        SELECT s.id, s.title, s.folder, s.held_on, s.notes, s.rule AS rule_json, s.gap_ms, s.crossfade_ms,
            COUNT(i.id) AS tracks, COALESCE(SUM(COALESCE(l.length_ms, i.length_ms)), 0) AS length_ms
        FROM music_set s LEFT JOIN set_item i ON i.set_id = s.id LEFT JOIN track_line l ON l.track_id = i.track_id
        """;

    private const string TrackColumns =
        """
        l.track_id, c.id AS copy_id, l.album_id, l.title, l.artist, l.album, l.disc, l.number, l.path, l.length_ms, c.codec_name,
            l.is_missing, l.rating,
        '' AS own, o.tempo, o.musical_key AS key, o.energy, o.first_beat, o.rating, COALESCE(o.comment, '') AS comment,
        '' AS tagged, l.tagged_tempo AS tempo, l.tagged_key AS key, l.tagged_rating AS rating,
        '' AS measured, m.copy_id IS NOT NULL AS is_analysed, m.tempo, m.first_beat, m.slowest, m.fastest, m.tempo_confidence,
            m.musical_key AS key, m.key_confidence, m.onsets, m.brightness, a.loudness, a.true_peak
        """;

    /// <summary>Where the columns of the next source begin.</summary>
    private const string Sources = "own,tagged,measured";

    /// <summary>A track with the copy that its line describes, and the figures of whichever copy has been analysed.</summary>
    private const string TrackJoins =
        """
        JOIN copy c ON c.path = l.path
        LEFT JOIN music m ON m.copy_id = (SELECT x.copy_id FROM music x JOIN copy y ON y.id = x.copy_id WHERE y.track_id = l.track_id
            AND x.failure IS NULL ORDER BY x.copy_id LIMIT 1)
        LEFT JOIN analysis a ON a.copy_id = c.id
        LEFT JOIN track_own o ON o.track_id = l.track_id
        """;

    public IReadOnlyList<SetRow> List()
    {
        trackLines.RefreshForPage();
        return database.Read(
            "sets",
            connection =>
                connection.Query<SetRow>(SetSelect + " GROUP BY s.id ORDER BY s.folder COLLATE NOCASE, s.title COLLATE NOCASE").AsList());
    }

    public int Count() => database.Read("set count", connection => connection.ExecuteScalar<int>("SELECT COUNT(*) FROM music_set"));

    public SetRow? Get(long id)
    {
        using var connection = OpenCurrent();
        return connection.QueryFirstOrDefault<SetRow>(SetSelect + " WHERE s.id = @id GROUP BY s.id", new { id });
    }

    /// <summary>A title as stored: one line of limited length.</summary>
    public static string TitleOf(string? typed) => WellFormedText.Line(typed, MaxTitle);

    /// <summary>A folder as stored: names with single slashes between them.</summary>
    public static string FolderOf(string? typed) =>
        string.Join('/', TitleOf(typed).Split('/', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries).Take(MaxDepth));

    /// <summary>Null when a set has this title already.</summary>
    /// <param name="title">As <see cref="TitleOf"/> gives it.</param>
    /// <param name="rule">Null for a set made by hand.</param>
    public long? Create(
        string title, SetRule? rule = null, string folder = "") => database.Change(connection => connection.QueryFirstOrDefault<long?>(
        "INSERT INTO music_set (title, created_at, rule, folder) VALUES (@title, @now, @rule, @folder) ON CONFLICT DO NOTHING RETURNING id",
        new
        {
            title,
            now = time.GetUtcNow().ToUnixTimeMilliseconds(),
            rule = rule is null ? null : JsonSerializer.Serialize(rule, SetsJson.Default.SetRule),
            folder
        }));

    /// <summary>Creates a set; a number is appended to its title if that is taken.</summary>
    public long CreateNumbered(string title, string folder = "")
    {
        for (int number = 1; ; number++)
        {
            if (Create(number == 1 ? title : $"{title} ({number})", folder: folder) is { } id)
                return id;
        }
    }

    /// <summary>False when another set has this title.</summary>
    public bool Rename(long id, string title) =>
        database.Change(
            connection => connection.Execute("UPDATE OR IGNORE music_set SET title = @title WHERE id = @id", new { id, title }) > 0);

    public void SetSpacing(long id, long gapMs, long crossfadeMs) => database.Change(connection => connection.Execute(
        "UPDATE music_set SET gap_ms = @gapMs, crossfade_ms = @crossfadeMs WHERE id = @id", new { id, gapMs, crossfadeMs }));

    /// <param name="folder">As <see cref="FolderOf"/> gives it.</param>
    /// <param name="heldOn">Null for no day.</param>
    public void SetDetails(long id, string notes, string folder, DateOnly? heldOn) => database.Change(connection => connection.Execute(
        "UPDATE music_set SET notes = @notes, folder = @folder, held_on = @heldOn WHERE id = @id",
        new { id, notes, folder, heldOn = heldOn?.ToString("yyyy-MM-dd", CultureInfo.InvariantCulture) }));

    /// <summary>Gives a folder of sets, and what is in it, another name; an empty one moves its sets up to no folder.</summary>
    public void RenameFolder(string folder, string name) => database.Change(connection => connection.Execute(
        """
        UPDATE music_set SET folder = trim(@name || substr(folder, length(@folder) + 1), '/')
        WHERE folder = @folder COLLATE NOCASE OR substr(folder, 1, length(@folder) + 1) = @folder || '/' COLLATE NOCASE
        """,
        new { folder, name }));

    public void ChangeRule(long id, SetRule rule) => database.Change(connection => connection.Execute(
        "UPDATE music_set SET rule = @rule WHERE id = @id AND rule IS NOT NULL",
        new { id, rule = JsonSerializer.Serialize(rule, SetsJson.Default.SetRule) }));

    public void Remove(long id)
    {
        backups.Start();
        database.Change(connection => connection.Execute("DELETE FROM music_set WHERE id = @id", new { id }));
    }

    /// <summary>The places of all sets made by hand, in order, with what their courses show.</summary>
    internal ILookup<long, CourseRow> Courses()
    {
        using var connection = OpenCurrent();
        return connection.Query<CourseRow>(
            $"""
            SELECT i.set_id, COALESCE(l.length_ms, i.length_ms, 0) AS length_ms, COALESCE(l.is_missing, TRUE) AS is_missing,
                m.copy_id IS NOT NULL AS is_analysed, l.tempo, l.musical_key, o.energy, a.loudness, m.onsets, m.brightness
            FROM set_item i LEFT JOIN track_line l ON l.track_id = i.track_id LEFT {TrackJoins}
            ORDER BY i.set_id, i.position
            """).ToLookup(row => row.SetId);
    }

    /// <summary>The tracks of a set in order, each with its item; places without a track show what was there.</summary>
    internal List<(long ItemId, SetTrack Track)> Lines(long setId)
    {
        using var connection = OpenCurrent();
        var there = connection.Query<
            long, long, SetTrack, OwnFigures, TaggedFigures, MeasuredFigures, (long Position, long ItemId, SetTrack Track)>(
            $"SELECT i.id, i.position, {TrackColumns} FROM set_item i JOIN track_line l ON l.track_id = i.track_id {TrackJoins} "
                + "WHERE i.set_id = @setId",
            (item, position, track, own, tagged, measured) => (position, item, Join(track, own, tagged, measured)),
            new { setId }, splitOn: "position,track_id," + Sources);
        var gone = connection.Query<long, long, SetTrack, (long Position, long ItemId, SetTrack Track)>(
            """
            SELECT i.id, i.position, COALESCE(i.track_id, 0) AS track_id, COALESCE(i.title, t.title, '') AS title,
                COALESCE(i.artist, t.artist, '') AS artist,
                COALESCE(i.path, '') AS path, COALESCE(i.length_ms, 0) AS length_ms, TRUE AS is_missing, TRUE AS is_gone
            FROM set_item i LEFT JOIN track t ON t.id = i.track_id
            WHERE i.set_id = @setId AND NOT EXISTS (SELECT 1 FROM track_line l WHERE l.track_id = i.track_id)
            """,
            (item, position, track) => (position, item, track), new { setId }, splitOn: "position,track_id");
        return [.. there.Concat(gone).OrderBy(line => line.Position).Select(line => (line.ItemId, line.Track))];
    }

    /// <summary>Those of the tracks that are in the library, each once, in the order given.</summary>
    internal IReadOnlyList<long> Existing(IEnumerable<long> trackIds)
    {
        using var connection = OpenCurrent();
        var asked = trackIds.Distinct().ToList();
        var there = connection.Query<long>(
            "SELECT track_id FROM track_line WHERE track_id IN (SELECT value FROM json_each(@list))",
            new { list = ListOf(asked) }).ToHashSet();
        return [.. asked.Where(there.Contains)];
    }

    /// <summary>The artist at each place of a set.</summary>
    internal Dictionary<long, string> Artists(long setId)
    {
        using var connection = database.Open();
        return connection.Query<(long Item, string Artist)>(
            "SELECT i.id, COALESCE(t.artist, i.artist, '') FROM set_item i LEFT JOIN track t ON t.id = i.track_id WHERE i.set_id = @setId",
            new { setId }).ToDictionary(row => row.Item, row => row.Artist);
    }

    /// <summary>Tracks of the library, whether in a set or not.</summary>
    /// <param name="condition">In terms of l (the line), o (the person's own figures) and m (the measured ones).</param>
    internal List<SetTrack> Tracks(string condition, object parameters)
    {
        using var connection = OpenCurrent();
        return connection.Query<SetTrack, OwnFigures, TaggedFigures, MeasuredFigures, SetTrack>(
            $"SELECT {TrackColumns} FROM track_line l {TrackJoins} WHERE {condition}", Join, parameters, splitOn: Sources).AsList();
    }

    private static SetTrack Join(SetTrack track, OwnFigures own, TaggedFigures tagged, MeasuredFigures measured) =>
        track with { Own = own, Tagged = tagged, Measured = measured };

    /// <summary>Changes the items of a set, so that it can be undone.</summary>
    /// <param name="title">What is done, in words.</param>
    /// <param name="change">Receives the items in order and returns them in the new order; new ones have item 0. The same list changes
    /// nothing.</param>
    /// <returns>False for a set that does not exist or follows a rule, or without a change.</returns>
    internal bool Change(
        long setId, string title, Func<IReadOnlyList<SetItem>, IReadOnlyList<SetItem>> change) => database.Change(connection =>
    {
        if (!connection.ExecuteScalar<bool>("SELECT EXISTS (SELECT 1 FROM music_set WHERE id = @setId AND rule IS NULL)", new { setId }))
            return false;
        var before = ItemsOf(connection, setId);
        var after = change(before);
        if (after.SequenceEqual(before))
            return false;
        connection.Execute(
            "INSERT INTO set_change (set_id, title, before) VALUES (@setId, @title, @before)",
            new
            {
                setId,
                title,
                before = JsonSerializer.Serialize(
                    [.. before.Select(item => new[] { item.Id, item.TrackId ?? 0 })], SetsJson.Default.Int64ArrayArray)
            });
        connection.Execute(
            "DELETE FROM set_change WHERE set_id = @setId AND id NOT IN (SELECT id FROM set_change WHERE set_id = @setId "
                + "ORDER BY id DESC LIMIT @MaxUndo)",
            new { setId, MaxUndo });
        Write(connection, setId, before, after);
        return true;
    });

    /// <summary>
    /// Undoes the last change; false if there is none. Removed tracks that are no longer in the library stay out.
    /// </summary>
    internal bool Undo(long setId) => database.Change(connection =>
    {
        var last = connection.QueryFirstOrDefault<(long Id, string Before)>(
            "SELECT id, before FROM set_change WHERE set_id = @setId ORDER BY id DESC LIMIT 1", new { setId });
        if (last.Before is null)
            return false;
        var before = JsonSerializer.Deserialize(last.Before, SetsJson.Default.Int64ArrayArray) ?? [];
        var now = ItemsOf(connection, setId);
        var kept = now.Select(item => item.Id).ToHashSet();
        var there = connection.Query<long>(
            "SELECT id FROM track WHERE id IN (SELECT value FROM json_each(@list))",
            new { list = ListOf(before.Select(pair => pair[1])) }).ToHashSet();
        Write(
            connection, setId, now,
            [.. before.Where(pair => kept.Contains(pair[0]) || there.Contains(pair[1])).Select(pair => new SetItem(pair[0], pair[1]))]);
        connection.Execute("DELETE FROM set_change WHERE id = @Id", new { last.Id });
        return true;
    });

    internal string? LastChange(long setId)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<string?>(
            "SELECT title FROM set_change WHERE set_id = @setId ORDER BY id DESC LIMIT 1", new { setId });
    }

    private static List<SetItem> ItemsOf(IDbConnection connection, long setId) =>
        connection.Query<SetItem>("SELECT id, track_id FROM set_item WHERE set_id = @setId ORDER BY position", new { setId }).AsList();

    private static void Write(IDbConnection connection, long setId, IReadOnlyList<SetItem> before, IReadOnlyList<SetItem> after)
    {
        var kept = after.Select(item => item.Id).ToHashSet();
        connection.Execute(
            "DELETE FROM set_item WHERE id IN (SELECT value FROM json_each(@list))",
            new { list = ListOf(before.Select(item => item.Id).Where(id => !kept.Contains(id))) });
        var known = before.Select(item => item.Id).ToHashSet();
        // One statement for all that only move.
        connection.Execute(
            """
            UPDATE set_item SET position = place.position
            FROM (SELECT value AS id, key AS position FROM json_each(@list)) place WHERE set_item.id = place.id
                AND set_item.position <> place.position
            """,
            new { list = ListOf(after.Select(item => item.Id)) });
        connection.Execute(
            "INSERT INTO set_item (id, set_id, position, track_id) VALUES (@id, @setId, @position, @TrackId)",
            after.Select((item, position) => (item, position)).Where(each => !known.Contains(each.item.Id))
                .Select(each => new { id = each.item.Id == 0 ? (long?)null : each.item.Id, setId, each.position, each.item.TrackId })
                    .ToList());
    }

    /// <summary>Opens the database with the lines of all tracks brought up to date.</summary>
    private SqliteConnection OpenCurrent()
    {
        trackLines.RefreshForPage();
        return database.Open();
    }

    private static string ListOf(IEnumerable<long> numbers) => "[" + string.Join(',', numbers) + "]";
}

/// <summary>A place in a set; <paramref name="Id"/> is 0 before it is stored.</summary>
/// <param name="TrackId">Null where the track has gone.</param>
internal readonly record struct SetItem(long Id, long? TrackId);
