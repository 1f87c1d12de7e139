using System.Data;
using Dapper;
using Wergamon.App.Storage;
using Wergamon.Core.Bytes;
using Wergamon.Core.Music;

namespace Wergamon.App.Sets;

/// <summary>A place in a track that a person has marked.</summary>
/// <param name="Seconds">From the start of the file.</param>
public sealed record TrackMark(long Id, double Seconds, string Title);

/// <summary>A person's own figures of tracks: those that take precedence over measured ones, rating, comment and marks.</summary>
public sealed class TrackNotes(Database database)
{
    public const int MaxMarks = 200, MaxRating = 5;

    private const int MaxText = 500;

    /// <summary>Null for what was measured or tagged.</summary>
    public void SetFigures(long trackId, double? tempo, MusicalKey? key, int? energy) =>
        Set(trackId, "tempo = @tempo, musical_key = @key, energy = @energy", new { trackId, tempo, key = key?.ToString(), energy });

    public void SetTempo(long trackId, double tempo) => Set(trackId, "tempo = @tempo", new { trackId, tempo });

    /// <param name="seconds">Position of a beat, from the start of the file; null for the measured grid.</param>
    public void SetBeat(long trackId, double? seconds) => Set(trackId, "first_beat = @seconds", new { trackId, seconds });

    /// <param name="rating">0 to 5; null for that of the tags.</param>
    public void SetRating(long trackId, int? rating) => Set(trackId, "rating = @rating", new { trackId, rating });

    /// <param name="energy">1 to 5; null for the measured one.</param>
    public void SetEnergy(long trackId, int? energy) => Set(trackId, "energy = @energy", new { trackId, energy });

    /// <param name="comment">Empty for none.</param>
    public void SetComment(long trackId, string comment) =>
        Set(
            trackId, "comment = @comment",
            new { trackId, comment = WellFormedText.Line(comment, MaxText) is { Length: > 0 } text ? text : null });

    /// <summary>In order of time.</summary>
    public IReadOnlyList<TrackMark> Marks(long trackId)
    {
        using var connection = database.Open();
        return connection.Query<TrackMark>(
            "SELECT id, seconds, title FROM track_mark WHERE track_id = @trackId ORDER BY seconds, id", new { trackId }).AsList();
    }

    /// <summary>The marks of many tracks, in order of time.</summary>
    public ILookup<long, TrackMark> Marks(IEnumerable<long> trackIds)
    {
        using var connection = database.Open();
        return connection.Query<(long TrackId, long Id, double Seconds, string Title)>(
            "SELECT track_id, id, seconds, title FROM track_mark WHERE track_id IN (SELECT value FROM json_each(@list)) "
                + "ORDER BY seconds, id",
            new { list = "[" + string.Join(',', trackIds) + "]" })
            .ToLookup(row => row.TrackId, row => new TrackMark(row.Id, row.Seconds, row.Title));
    }

    /// <summary>
    /// Adds marks, except those at the same time as an existing one and those beyond <see cref="MaxMarks"/>.
    /// </summary>
    /// <returns>How many were added.</returns>
    public int AddMarks(long trackId, IEnumerable<(double Seconds, string Title)> marks) =>
        database.Change(connection => AddMarks(connection, trackId, marks));

    /// <summary>Replaces all marks by these.</summary>
    public void ReplaceMarks(long trackId, IEnumerable<(double Seconds, string Title)> marks) => database.Change(connection =>
    {
        connection.Execute("DELETE FROM track_mark WHERE track_id = @trackId", new { trackId });
        AddMarks(connection, trackId, marks);
    });

    /// <summary>False for a mark that is not there.</summary>
    public bool ChangeMark(long id, double seconds, string title) => database.Change(connection =>
        connection.Execute(
            "UPDATE track_mark SET seconds = @seconds, title = @title WHERE id = @id",
            new { id, seconds, title = WellFormedText.Line(title, MaxText) }) > 0);

    public void RemoveMark(long id) =>
        database.Change(connection => connection.Execute("DELETE FROM track_mark WHERE id = @id", new { id }));

    private static int AddMarks(IDbConnection connection, long trackId, IEnumerable<(double Seconds, string Title)> marks)
    {
        int added = 0;
        foreach (var (seconds, title) in marks)
        {
            added += connection.Execute(
                """
                INSERT INTO track_mark (track_id, seconds, title) SELECT id, @seconds, @title FROM track WHERE id = @trackId
                    AND (SELECT COUNT(*) FROM track_mark WHERE track_id = @trackId) < @MaxMarks
                    AND NOT EXISTS (SELECT 1 FROM track_mark WHERE track_id = @trackId AND ABS(seconds - @seconds) < 0.001)
                """,
                new { trackId, seconds, title = WellFormedText.Line(title, MaxText), MaxMarks });
        }

        return added;
    }

    private void Set(long trackId, string assignment, object values) => database.Change(connection =>
    {
        connection.Execute("INSERT OR IGNORE INTO track_own (track_id) SELECT id FROM track WHERE id = @trackId", values);
        connection.Execute($"UPDATE track_own SET {assignment} WHERE track_id = @trackId", values);
    });
}
