using Dapper;
using Wergamon.App.Storage;
using Wergamon.Core.Naming;

namespace Wergamon.App.Tracks;

/// <summary>A few albums to choose from: the latest, or those that have certain words.</summary>
public sealed class AlbumSearch(Database database, TrackLines lines)
{
    /// <param name="words">Each has to begin a word of one of its tracks, titles, names and artists included; empty for the latest.</param>
    public IReadOnlyList<AlbumRow> Find(string words, int max)
    {
        lines.RefreshForPage();
        var wanted = FoldedText.Words(words).ToList();
        if (wanted.Count == 0 && words.Trim().Length > 0)
            return [];
        var match = string.Join(" AND ", wanted.Select(word => $"\"{word}\"*"));
        var found = wanted.Count == 0 ? "" : "AND track_id IN (SELECT rowid FROM track_text WHERE track_text MATCH @match)";
        using var connection = database.Open();
        return connection.Query<AlbumRow>(
            $"""
            {LibraryQueries.AlbumSelect} WHERE a.id IN (SELECT album_id FROM track_line WHERE NOT is_missing {found} GROUP BY album_id
                ORDER BY MAX(added_at) DESC, album_id DESC LIMIT @max)
            ORDER BY (SELECT MAX(added_at) FROM track_line WHERE album_id = a.id) DESC, a.id DESC
            """,
            new { match, max }).AsList();
    }
}
