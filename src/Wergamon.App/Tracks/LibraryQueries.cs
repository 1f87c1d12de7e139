using System.Data;
using Dapper;
using Wergamon.App.Storage;
using Wergamon.Core.Bytes;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

namespace Wergamon.App.Tracks;

/// <summary>A picture, stored once for all copies that hold it.</summary>
public sealed record ArtworkRow
{
    public string MimeType { get; init; } = "";

    public byte[] Data { get; init; } = [];
}

/// <summary>What the Library shows.</summary>
public sealed class LibraryQueries(Database database)
{
    /// <summary>Tracks whose copies are all in the trash are hidden.</summary>
    private const string IsThere = "EXISTS (SELECT 1 FROM copy WHERE track_id = t.id AND NOT is_trashed)";

    private const string TrackColumns = "t.id, t.album_id, a.title AS album_title, a.artist AS album_artist, t.disc, t.number, t.title, "
        + "t.artist";

    /// <summary>
    /// The digest of the samples of a copy; null before its analysis, for a damaged file, and for one that has changed since its scan.
    /// </summary>
    public string? DigestOf(long copyId)
    {
        using var connection = database.Open();
        return AnalysisRows.DigestOf(connection, copyId);
    }

    public int CountTracks() => database.Read("tracks", connection => connection.ExecuteScalar<int>(
        "SELECT (SELECT COUNT(*) FROM track) - (SELECT COUNT(*) FROM track t WHERE t.id IN (SELECT track_id FROM copy WHERE is_trashed) "
            + $"AND NOT {IsThere})"));

    /// <summary>A range of albums by artist and year.</summary>
    public IReadOnlyList<AlbumRow> Albums(int offset = 0, int count = int.MaxValue)
    {
        using var connection = database.Open();
        return connection.Query<AlbumRow>(
            AlbumSelect
                + $" WHERE EXISTS (SELECT 1 FROM track t WHERE t.album_id = a.id AND {IsThere}) "
                + "ORDER BY a.artist COLLATE NOCASE, a.year, a.title COLLATE NOCASE, a.id LIMIT @count OFFSET @offset",
            new { offset, count }).AsList();
    }

    public AlbumRow? Album(long id)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<AlbumRow>(AlbumSelect + " WHERE a.id = @id", new { id });
    }

    public IReadOnlyList<TrackRow> TracksOfAlbum(long albumId) =>
        Tracks("WHERE t.album_id = @albumId ORDER BY t.disc, t.number IS NULL, t.number, t.title COLLATE NOCASE", new { albumId });

    /// <summary>How many tracks each disc of an album has by its tags; under 0 for files that name no disc.</summary>
    public IReadOnlyDictionary<int, int> TrackTotals(long albumId)
    {
        using var connection = database.Open();
        return connection.Query<(int Disc, int Total)>(
            """
            SELECT COALESCE(t.disc, 0), MAX(CASE WHEN CAST(g.value AS INTEGER) BETWEEN 0
                AND @MaxTrackNumber THEN CAST(g.value AS INTEGER) ELSE 0 END) FROM track t JOIN copy c ON c.track_id = t.id
                JOIN tag g ON g.copy_id = c.id
            WHERE t.album_id = @albumId AND NOT c.is_trashed AND g.name = @TrackTotal COLLATE NOCASE GROUP BY 1
            """,
            new { albumId, FieldNames.TrackTotal, Limits.MaxTrackNumber }).ToDictionary(row => row.Disc, row => row.Total);
    }

    /// <summary>Tracks by ID, in the order given.</summary>
    public IReadOnlyList<TrackRow> TracksById(IReadOnlyList<long> ids)
    {
        var found = Tracks("WHERE t.id IN (SELECT value FROM json_each(@list))", new { list = "[" + string.Join(',', ids) + "]" })
            .ToDictionary(track => track.Id);
        return [.. ids.Where(found.ContainsKey).Select(id => found[id])];
    }

    public CopyRow? Copy(long id)
    {
        using var connection = database.Open();
        return CopyRows.Read(connection, "c.id = @id", new { id }).FirstOrDefault();
    }

    /// <summary>What the analyses of copies found, for routes; those that have not been analysed are not among them.</summary>
    /// <param name="asOne">True to measure all of them together, too.</param>
    public IReadOnlyDictionary<long, KnownSound> KnownSoundsOf(IEnumerable<long> copyIds, bool asOne)
    {
        using var connection = database.Open();
        return KnownSounds.Of(connection, copyIds.ToDictionary(id => id, _ => 0L), asOne);
    }

    /// <summary>The first value of a field for each of the copies that has it.</summary>
    public IReadOnlyDictionary<long, string> ValuesOf(IEnumerable<long> copyIds, string field)
    {
        using var connection = database.Open();
        return connection.Query<(long CopyId, string Value)>(
            "SELECT copy_id, value FROM tag WHERE name = @field COLLATE NOCASE AND copy_id IN (SELECT value FROM json_each(@list))",
            new { field, list = "[" + string.Join(',', copyIds) + "]" })
            .DistinctBy(row => row.CopyId).ToDictionary(row => row.CopyId, row => row.Value);
    }

    /// <summary>The tags of a copy: those of the file, completed from its name.</summary>
    public TagSet TagsOf(long copyId)
    {
        using var connection = database.Open();
        return ReadTags(connection, copyId);
    }

    public IReadOnlyList<LineageRow> LineageOf(long trackId)
    {
        using var connection = database.Open();
        return connection.Query<LineageRow>(
            """
            SELECT l.copy_id, l.from_copy_id, l.target_name, l.steps, l.made_at, l.disc_id, l.disc_track, l.reading,
                d.album ->> '$.title' AS disc_title
            FROM lineage l JOIN copy c ON c.id = l.copy_id LEFT JOIN disc d ON d.id = l.disc_id WHERE c.track_id = @trackId
            """,
            new { trackId }).AsList();
    }

    public IReadOnlyList<CopyPicture> PicturesOf(long copyId)
    {
        using var connection = database.Open();
        return connection.Query<CopyPicture>(
            """
            SELECT w.kind, w.description, w.hash, a.mime_type, a.width, a.height, length(a.data) AS bytes
            FROM copy_artwork w JOIN artwork a ON a.hash = w.hash WHERE w.copy_id = @copyId ORDER BY w.kind <> 3, w.kind, w.position
            """,
            new { copyId }).AsList();
    }

    /// <summary>What happened to the copies of a track, the latest first.</summary>
    public IReadOnlyList<CopyEvent> HistoryOf(long trackId)
    {
        using var connection = database.Open();
        return connection.Query<CopyEvent>(
            "SELECT e.copy_id, e.happened_at, e.words FROM copy_event e JOIN copy c ON c.id = e.copy_id WHERE c.track_id = @trackId "
                + "ORDER BY e.id DESC",
            new { trackId }).AsList();
    }

    public ArtworkRow? Artwork(string hash)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<ArtworkRow>("SELECT mime_type, data FROM artwork WHERE hash = @hash", new { hash });
    }

    /// <param name="ofFileAlone">True to leave out what its name gave for lack of tags.</param>
    internal static TagSet ReadTags(IDbConnection connection, long copyId, bool ofFileAlone = false)
    {
        var tags = new TagSet();
        var rows = connection.Query<(string Name, string Value)>(
            "SELECT name, value FROM tag WHERE copy_id = @copyId AND NOT (@ofFileAlone AND from_name) ORDER BY position",
            new { copyId, ofFileAlone });
        foreach (var (name, value) in rows)
            tags.Add(name, value);
        return tags;
    }

    /// <summary>The fields that the names of files gave, for lack of tags; copies without such are left out.</summary>
    internal static Dictionary<long, IReadOnlyList<JobField>> FieldsFromNames(IDbConnection connection, IEnumerable<long> copyIds) =>
        connection
        .Query<(long CopyId, string Name, string Value)>(
            "SELECT copy_id, name, value FROM tag WHERE from_name AND copy_id IN (SELECT value FROM json_each(@list)) "
                + "ORDER BY copy_id, position",
            new { list = "[" + string.Join(',', copyIds) + "]" })
        .GroupBy(row => row.CopyId)
        .ToDictionary(
            rows => rows.Key,
            rows =>
                (IReadOnlyList<JobField>)[
                    .. rows.GroupBy(row => row.Name).Select(field => new JobField(field.Key, [.. field.Select(row => row.Value)]))
                ]);

    /// <summary>The paths of the music folders.</summary>
    internal static Dictionary<long, string> FolderPaths(IDbConnection connection) =>
        connection.Query<(long Id, string Path)>("SELECT id, path FROM folder").ToDictionary(row => row.Id, row => row.Path);

    /// <summary>What the tags of copies hold, pictures and opaque fields without their bytes.</summary>
    internal static Dictionary<long, TagContents> ContentsOf(IDbConnection connection, IEnumerable<long> copyIds)
    {
        var list = "[" + string.Join(',', copyIds) + "]";
        // A large plan has many thousands of fields: none is kept longer than needed, and each name only once.
        var tags = copyIds.Distinct().ToDictionary(id => id, _ => new TagSet());
        var names = new Dictionary<string, string>();
        using (var rows = connection.ExecuteReader(
            "SELECT copy_id, name, value FROM tag WHERE copy_id IN (SELECT value FROM json_each(@list)) ORDER BY copy_id, position",
            new { list }))
        {
            while (rows.Read())
            {
                var name = rows.GetString(1);
                if (!names.TryGetValue(name, out var known))
                    names[name] = known = name;
                tags[rows.GetInt64(0)].Add(known, rows.GetString(2));
            }
        }

        var pictures = connection.Query<(long CopyId, int Kind, string MimeType, string Description, long Bytes)>(
            """
            SELECT w.copy_id, w.kind, a.mime_type, w.description, length(a.data) FROM copy_artwork w JOIN artwork a ON a.hash = w.hash
            WHERE w.copy_id IN (SELECT value FROM json_each(@list)) ORDER BY w.copy_id, w.position
            """,
            new { list }).ToLookup(row => row.CopyId);
        var opaque = connection.Query<(long CopyId, string Dialect, string Name, long Bytes)>(
            "SELECT copy_id, dialect, name, bytes FROM opaque_tag WHERE copy_id IN (SELECT value FROM json_each(@list)) "
                + "ORDER BY copy_id, position",
            new { list }).ToLookup(row => row.CopyId);
        return tags.ToDictionary(each => each.Key, each => new TagContents(
            each.Value.Fields,
            [.. pictures[each.Key].Select(row => new PictureEntry((PictureKind)row.Kind, row.MimeType, row.Description, row.Bytes))],
            [.. opaque[each.Key].Select(row => new OpaqueEntry(row.Dialect, row.Name, row.Bytes))]));
    }

    internal const string AlbumSelect =
        $"""
        SELECT a.id, a.title, a.artist, a.year, a.genre, a.added_at,
            (SELECT COUNT(*) FROM track t WHERE t.album_id = a.id AND {IsThere}) AS tracks,
            (SELECT ca.hash FROM track t JOIN copy c ON c.track_id = t.id JOIN copy_artwork ca ON ca.copy_id = c.id
             WHERE t.album_id = a.id AND NOT c.is_trashed ORDER BY ca.kind <> 3, t.number LIMIT 1) AS cover_hash
        FROM album a
        """;

    private List<TrackRow> Tracks(string condition, object parameters)
    {
        using var connection = database.Open();
        var tracks = connection.Query<TrackRow>(
            $"SELECT {TrackColumns} FROM track t JOIN album a ON a.id = t.album_id {condition}", parameters).AsList();
        var copies = CopyRows.OfTracks(connection, tracks.Select(track => track.Id));
        foreach (var track in tracks)
            track.Copies = [.. copies[track.Id]];
        return [.. tracks.Where(track => track.Copies.Count > 0)];
    }
}
