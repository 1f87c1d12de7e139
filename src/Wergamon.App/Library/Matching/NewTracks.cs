using System.Data;
using Dapper;
using Wergamon.App.Tracks;

namespace Wergamon.App.Library.Matching;

/// <summary>Adds tracks and their albums.</summary>
public sealed class NewTracks(TimeProvider time)
{
    /// <summary>Adds a track with the names of a known copy, without moving the copy to it.</summary>
    internal long InsertFor(IDbConnection connection, long copyId)
    {
        var (path, addedAt) = connection.QuerySingle<(string Path, long AddedAt)>(
            "SELECT path, added_at FROM copy WHERE id = @copyId", new { copyId });
        return Insert(connection, TrackFacts.From(LibraryQueries.ReadTags(connection, copyId), path), addedAt);
    }

    internal long Insert(IDbConnection connection, TrackFacts facts, long addedAt) => connection.ExecuteScalar<long>(
        "INSERT INTO track (album_id, disc, number, title, artist, added_at) "
            + "VALUES (@albumId, @Disc, @Number, @Title, @Artist, @addedAt) RETURNING id",
        new { albumId = FindOrAddAlbum(connection, facts), facts.Disc, facts.Number, facts.Title, facts.Artist, addedAt });

    internal long FindOrAddAlbum(IDbConnection connection, TrackFacts facts) =>
        connection.ExecuteScalar<long>(
            """
            INSERT INTO album (identity, artist, title, year, genre, added_at)
                VALUES (@AlbumIdentity, @AlbumArtist, @Album, @Year, @Genre, @now)
            ON CONFLICT (identity) DO UPDATE SET year = COALESCE(album.year, excluded.year), genre = COALESCE(album.genre, excluded.genre)
            RETURNING id
            """,
            new
            {
                facts.AlbumIdentity,
                facts.AlbumArtist,
                facts.Album,
                facts.Year,
                facts.Genre,
                now = time.GetUtcNow().ToUnixTimeMilliseconds()
            });
}
