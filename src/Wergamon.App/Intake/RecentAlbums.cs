using Dapper;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;

namespace Wergamon.App.Intake;

/// <summary>An album that has come in lately.</summary>
/// <param name="From">Where its files came from.</param>
/// <param name="State">How its files are.</param>
/// <param name="IsAmiss">True if something about them wants a look.</param>
public sealed record RecentAlbum(AlbumRow Album, string From, string State, bool IsAmiss);

/// <summary>What came in last, from discs, folders and uploads.</summary>
public sealed class RecentAlbums(Database database, AlbumSearch albums)
{
    public IReadOnlyList<RecentAlbum> List(int max)
    {
        var found = albums.Find("", max);
        using var connection = database.Open();
        var origins = connection.Query<Origin>(
            """
            SELECT t.album_id, SUM(l.disc_id IS NOT NULL) AS of_disc, SUM(c.is_missing) AS missing, SUM(c.damage IS NOT NULL) AS damaged,
                MIN(f.path) AS folder
            FROM track t JOIN copy c ON c.track_id = t.id LEFT JOIN lineage l ON l.copy_id = c.id LEFT JOIN folder f ON f.id = c.folder_id
            WHERE t.album_id IN (SELECT value FROM json_each(@list)) AND NOT c.is_trashed GROUP BY t.album_id
            """,
            new { list = "[" + string.Join(',', found.Select(album => album.Id)) + "]" }).ToDictionary(origin => origin.AlbumId);
        return [.. found.Where(album => origins.ContainsKey(album.Id)).Select(album => Of(album, origins[album.Id]))];
    }

    private static RecentAlbum Of(AlbumRow album, Origin origin)
    {
        var from = origin.OfDisc > 0 ? "ripped from a disc" : origin.Folder is { } folder ? $"in {Path.GetFileName(folder)}" : "made here";
        string?[] amiss =
        [
            origin.Missing > 0 ? $"{origin.Missing:N0} missing" : null, origin.Damaged > 0 ? $"{origin.Damaged:N0} damaged" : null,
        ];
        var words = string.Join(", ", amiss.Where(part => part is not null));
        return new RecentAlbum(album, from, words.Length > 0 ? words : "all read", words.Length > 0);
    }

    private sealed record Origin
    {
        public long AlbumId { get; init; }

        public int OfDisc { get; init; }

        public int Missing { get; init; }

        public int Damaged { get; init; }

        /// <summary>The music folder that has it; null for files elsewhere.</summary>
        public string? Folder { get; init; }
    }
}
