using Dapper;
using Wergamon.App.Storage;
using Wergamon.Core.Audio;
using Wergamon.Core.Naming;

namespace Wergamon.App.Tracks;

/// <summary>Lists of tracks of any length, a page at a time.</summary>
public sealed class TrackList(Database database, TrackLines lines)
{
    private const string Columns =
        "l.track_id, l.album_id, l.title, l.artist, l.album, l.disc, l.number, l.year, l.genre, l.sample_rate, l.bits, l.channels, "
            + "l.length_ms, "
        + "l.path, l.tempo, l.musical_key, l.rating, l.added_at, l.bytes, l.is_damaged";

    /// <summary>Views whose counts are kept until something changes; going back and forth between them is common.</summary>
    private const int MaxKept = 64;

    private readonly ResultCache<TrackCounts> _counted = new(MaxKept);

    /// <summary>The number of tracks, and how many each further filter would leave.</summary>
    public TrackCounts Count(TrackView view)
    {
        lines.RefreshForPage();
        var key = string.Join('\n', [view.Words, string.Join(',', view.Marks), view.Format, view.Folder]);
        return _counted.Get(key, lines.Version, lines.IsBehind, () => CountAnew(view));
    }

    private TrackCounts CountAnew(TrackView view)
    {
        using var connection = database.Open();
        // One pass over the list for all formats, so the words are looked up only once.
        var (condition, parameters) = ConditionOf(view with { Format = null });
        var marks = Enum.GetValues<TrackFilter>();
        var counts = marks.ToDictionary(mark => mark, _ => 0);
        var sums = string.Join(", ", marks.Select(mark => $"SUM({ConditionOf(mark)})"));
        var formats = new List<(string Format, int Tracks)>();
        int tracks = 0;
        long length = 0, bytes = 0;
        using var reader = connection.ExecuteReader(
            $"SELECT format, COUNT(*), SUM(length_ms), SUM(bytes), {sums} FROM track_line l WHERE {condition} GROUP BY format", parameters);
        while (reader.Read())
        {
            formats.Add((reader.GetString(0), reader.GetInt32(1)));
            if (view.Format is { } format && format != reader.GetString(0))
                continue;
            (tracks, length, bytes) = (tracks + reader.GetInt32(1), length + reader.GetInt64(2), bytes + reader.GetInt64(3));
            foreach (var mark in marks)
                counts[mark] += reader.GetInt32(4 + (int)mark);
        }

        return new TrackCounts(
            tracks, length, bytes, counts,
            [.. formats.OrderByDescending(each => each.Tracks).ThenBy(each => each.Format, StringComparer.Ordinal)]);
    }

    public IReadOnlyList<TrackLine> Page(TrackView view, int offset, int count)
    {
        lines.RefreshForPage();
        using var connection = database.Open();
        var (condition, parameters) = ConditionOf(view);
        parameters.AddDynamicParams(new { offset, count });
        var page = connection.Query<TrackLine>(
            $"SELECT {Columns} FROM track_line l WHERE {condition} ORDER BY {OrderOf(view)} LIMIT @count OFFSET @offset",
            parameters).AsList();
        var copies = CopyRows.OfTracks(connection, page.Select(line => line.TrackId));
        foreach (var line in page)
            line.Copies = [.. copies[line.TrackId]];
        return page;
    }

    /// <summary>IDs of the tracks in a range of the list.</summary>
    public IReadOnlyList<long> Ids(TrackView view, int offset, int count)
    {
        lines.RefreshForPage();
        using var connection = database.Open();
        var (condition, parameters) = ConditionOf(view);
        parameters.AddDynamicParams(new { offset, count });
        return connection.Query<long>(
            $"SELECT l.track_id FROM track_line l WHERE {condition} ORDER BY {OrderOf(view)} LIMIT @count OFFSET @offset",
            parameters).AsList();
    }

    /// <summary>The direct subfolders of a folder, with the number of tracks below each.</summary>
    /// <param name="folder">Null for the music folders themselves and all other folders with copies.</param>
    public IReadOnlyList<(string Path, int Tracks)> FoldersBelow(string? folder)
    {
        lines.RefreshForPage();
        using var connection = database.Open();
        if (folder is null)
        {
            return connection.Query<(string, int)>(
                "SELECT f.path, (SELECT COUNT(*) FROM track_line WHERE substr(path, 1, length(f.path) + 1) = f.path || '/') "
                    + "FROM folder f ORDER BY f.path").AsList();
        }

        var below = folder.TrimEnd('/') + "/";
        return [.. connection.Query<string>("SELECT path FROM track_line WHERE substr(path, 1, length(@below)) = @below", new { below })
            .Select(path => path[below.Length..])
            .Where(rest => rest.Contains('/', StringComparison.Ordinal))
            .GroupBy(rest => rest[..rest.IndexOf('/', StringComparison.Ordinal)])
            .Select(group => (below + group.Key, group.Count()))
            .OrderBy(child => FoldedText.SortKey(child.Item1), StringComparer.Ordinal)];
    }

    private static (string Condition, DynamicParameters Parameters) ConditionOf(TrackView view)
    {
        var parameters = new DynamicParameters();
        var conditions = new List<string> { "1" };
        var words = FoldedText.Words(view.Words).ToList();
        if (words.Count > 0)
        {
            // Every word matches as a prefix; typed text is data for the query language, so each word is quoted.
            parameters.Add("match", string.Join(" AND ", words.Select(word => $"\"{word}\"*")));
            conditions.Add("l.track_id IN (SELECT rowid FROM track_text WHERE track_text MATCH @match)");
        }
        else if (view.Words.Trim().Length > 0)
        {
            conditions.Add("0");
        }

        conditions.AddRange(view.Marks.Select(ConditionOf));
        if (view.Format is { } format)
        {
            parameters.Add("format", format);
            conditions.Add("l.format = @format");
        }

        if (view.Folder is { } folder)
        {
            parameters.Add("below", folder.TrimEnd('/') + "/");
            conditions.Add("substr(l.path, 1, length(@below)) = @below");
        }

        return (string.Join(" AND ", conditions), parameters);
    }

    private static string ConditionOf(TrackFilter mark) => mark switch
    {
        TrackFilter.NoArtwork => "l.has_artwork = 0",
        TrackFilter.Untagged => "l.is_untagged",
        TrackFilter.LossyOnly => "l.has_lossless = 0",
        TrackFilter.SeveralCopies => "l.copies > 1",
        TrackFilter.MixedRates =>
            "l.album_id IN (SELECT album_id FROM track_line GROUP BY album_id HAVING MIN(sample_rate) < MAX(sample_rate))",
        TrackFilter.NotForDisc => "l.fits_disc = 0",
        TrackFilter.Damaged => "l.is_damaged",
        TrackFilter.NotAsItSays =>
            "l.track_id IN (SELECT c.track_id FROM finding f JOIN copy c ON c.id = f.copy_id WHERE f.is_sure AND NOT c.is_trashed)",
        _ => "l.is_missing",
    };

    private static string OrderOf(TrackView view)
    {
        string[] columns = view.Sort switch
        {
            TrackSort.Artist => ["artist_key", "album_key", "disc", "number"],
            TrackSort.Title => ["title_key"],
            TrackSort.Album => ["album_key", "disc", "number"],
            TrackSort.Number => ["disc", "number", "album_key"],
            TrackSort.Year => ["year", "album_key", "disc", "number"],
            TrackSort.Genre => ["genre COLLATE NOCASE", "artist_key", "album_key", "disc", "number"],
            TrackSort.Format => ["format", "kilobits"],
            TrackSort.Rates => ["sample_rate", "bits", "channels"],
            TrackSort.Length => ["length_ms"],
            TrackSort.Size => ["bytes"],
            TrackSort.Added => ["added_at"],
            TrackSort.Tempo => ["tempo"],
            TrackSort.Key => ["musical_key"],
            TrackSort.Rating => ["rating"],
            _ => ["path_key"],
        };
        var direction = view.IsDescending ? " DESC" : "";
        return string.Join(", ", columns.Append("track_id").Select(column => $"l.{column}{direction}"));
    }
}
