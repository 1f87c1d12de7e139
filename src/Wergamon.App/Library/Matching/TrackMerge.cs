using System.Data;
using Dapper;

namespace Wergamon.App.Library.Matching;

/// <summary>Moves copies from one track to another; whatever refers to a track follows.</summary>
internal static class TrackMerge
{
    /// <summary>Moves all copies of one track to another and removes the first.</summary>
    public static void Merge(IDbConnection connection, long from, long into)
    {
        var tracks = new { from, into };
        connection.Execute("UPDATE copy SET track_id = @into WHERE track_id = @from", tracks);
        connection.Execute(
            "DELETE FROM plan_item WHERE track_id = @from AND plan_id IN (SELECT plan_id FROM plan_item WHERE track_id = @into)", tracks);
        connection.Execute("UPDATE plan_item SET track_id = @into WHERE track_id = @from", tracks);
        connection.Execute("UPDATE set_item SET track_id = @into WHERE track_id = @from", tracks);
        connection.Execute("UPDATE delivery_item SET track_id = @into WHERE track_id = @from", tracks);
        connection.Execute(
            """
            UPDATE track_own SET tempo = COALESCE(track_own.tempo, gone.tempo),
                first_beat = COALESCE(track_own.first_beat, gone.first_beat),
                musical_key = COALESCE(track_own.musical_key, gone.musical_key), energy = COALESCE(track_own.energy, gone.energy),
                rating = COALESCE(track_own.rating, gone.rating), comment = COALESCE(track_own.comment, gone.comment)
            FROM track_own gone WHERE gone.track_id = @from AND track_own.track_id = @into
            """,
            tracks);
        connection.Execute("UPDATE OR IGNORE track_own SET track_id = @into WHERE track_id = @from", tracks);
        connection.Execute(
            "DELETE FROM track_mark WHERE track_id = @from AND seconds IN (SELECT seconds FROM track_mark WHERE track_id = @into)", tracks);
        connection.Execute("UPDATE track_mark SET track_id = @into WHERE track_id = @from", tracks);
        connection.Execute(
            """
            UPDATE track SET disc = COALESCE(track.disc, gone.disc), number = COALESCE(track.number, gone.number),
                added_at = MIN(track.added_at, gone.added_at)
            FROM track gone WHERE gone.id = @from AND track.id = @into
            """,
            tracks);
        connection.Execute("DELETE FROM track WHERE id = @from", tracks);
    }

    /// <summary>A copy and all copies of the same track that were made from it; they move together.</summary>
    public static IReadOnlyList<long> WithDescendants(IDbConnection connection, long copyId) => connection.Query<long>(
        """
        WITH RECURSIVE family (id) AS (
            SELECT @copyId
            UNION
            SELECT l.copy_id FROM lineage l JOIN family f ON l.from_copy_id = f.id JOIN copy c ON c.id = l.copy_id
            WHERE c.track_id = (SELECT track_id FROM copy WHERE id = @copyId))
        SELECT id FROM family
        """,
        new { copyId }).AsList();

    /// <summary>Moves copies to another track and drops their matches with those that stay.</summary>
    public static void Split(IDbConnection connection, IReadOnlyList<long> copyIds, long into)
    {
        var moved = new { list = "[" + string.Join(',', copyIds) + "]", into };
        const string Moved = "(SELECT value FROM json_each(@list))";
        connection.Execute($"DELETE FROM track_match WHERE (copy_id IN {Moved}) <> (with_copy_id IN {Moved})", moved);
        connection.Execute($"UPDATE copy SET track_id = @into WHERE id IN {Moved}", moved);
    }

    internal static void RemoveEmptyAlbums(IDbConnection connection) =>
        connection.Execute("DELETE FROM album WHERE NOT EXISTS (SELECT 1 FROM track WHERE album_id = album.id)");
}
