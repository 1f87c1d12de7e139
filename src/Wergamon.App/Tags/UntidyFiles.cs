using System.Data;
using Dapper;
using Wergamon.App.Storage;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Tidying;

namespace Wergamon.App.Tags;

/// <summary>What can be untidy about the tags of a file.</summary>
public enum UntidyKind
{
    NoTitleOrArtist,
    NoAlbum,
    NoNumber,
    NumberGaps,
    NoFrontCover,
    AlbumArtistDiffers,
    YearDiffers,
    GenreDiffers,
    CoverDiffers,
    Adverts,
    ArtistSpellings,
    WrongCodePage,
}

/// <param name="Files">How many files it concerns.</param>
public sealed record UntidyLine(UntidyKind Kind, int Files);

/// <summary>
/// Finds files whose tags are untidy. Pages ask often, and with a large library the answer takes longer than a page may: they get the
/// last one at once, while the next is computed in the background. It is kept for a while, since a scan changes the library constantly.
/// </summary>
public sealed class UntidyFiles(Database database, Signals signals, TimeProvider time)
{
    private static readonly TimeSpan KeptAtLeast = TimeSpan.FromSeconds(2), LongestWait = TimeSpan.FromMilliseconds(50);

    /// <summary>An answer is kept for this many times as long as it took, so that finding takes a small part of the machine.</summary>
    private const int KeptTimes = 15;

    private const string IsThere = "NOT c.is_trashed AND NOT c.is_missing";

    private readonly Lock _finding = new();
    private IReadOnlyDictionary<UntidyKind, IReadOnlyList<long>> _found = new Dictionary<UntidyKind, IReadOnlyList<long>>();
    private long _foundAt;
    private TimeSpan _keptFor;
    private Task _search = Task.CompletedTask;

    /// <summary>The kinds that there are files of.</summary>
    public IReadOnlyList<UntidyLine> List() =>
        [
            .. Found()
                .Where(pair => pair.Value.Count > 0)
                .OrderBy(pair => pair.Key)
                .Select(pair => new UntidyLine(pair.Key, pair.Value.Count))
        ];

    /// <summary>Files of any kind, each counted once.</summary>
    public int Count() => Found().Values.SelectMany(ids => ids).Distinct().Count();

    /// <summary>The copies, by album and number.</summary>
    public IReadOnlyList<long> FilesOf(UntidyKind kind)
    {
        using var connection = database.Open();
        return connection.Query<long>(
            """
            SELECT c.id FROM copy c JOIN track t ON t.id = c.track_id JOIN album a ON a.id = t.album_id
            WHERE c.id IN (SELECT value FROM json_each(@list)) ORDER BY a.artist COLLATE NOCASE, a.title COLLATE NOCASE, t.disc, t.number,
                c.path
            """,
            new { list = "[" + string.Join(',', Found().GetValueOrDefault(kind) ?? []) + "]" }).AsList();
    }

    private IReadOnlyDictionary<UntidyKind, IReadOnlyList<long>> Found()
    {
        Task search;
        lock (_finding)
        {
            if (_search.IsCompleted && (_foundAt == 0 || time.GetElapsedTime(_foundAt) > _keptFor))
                _search = Task.Run(Search);
            search = _search;
        }

        // If a search fails, for example while the database is locked, the last answer is kept.
        Task.WaitAny([search], LongestWait);
        return Volatile.Read(ref _found);
    }

    private void Search()
    {
        long start = time.GetTimestamp();
        var found = database.Read("untidy files", Find);
        bool isNew = !found.All(pair => _found.TryGetValue(pair.Key, out var known) && known.Count == pair.Value.Count);
        Volatile.Write(ref _found, found);
        var taken = time.GetElapsedTime(start);
        lock (_finding)
            (_foundAt, _keptFor) = (time.GetTimestamp(), taken * KeptTimes > KeptAtLeast ? taken * KeptTimes : KeptAtLeast);
        if (isNew && taken > LongestWait)
            signals.Send(new Signal(Signal.Library));
    }

    private static IReadOnlyDictionary<UntidyKind, IReadOnlyList<long>> Find(IDbConnection connection)
    {
        var values = new FieldValues(connection);
        return new Dictionary<UntidyKind, IReadOnlyList<long>>
        {
            [UntidyKind.NoTitleOrArtist] = Without(connection, FieldNames.Title).Union(Without(connection, FieldNames.Artist)).ToList(),
            [UntidyKind.NoAlbum] = Without(connection, FieldNames.Album),
            [UntidyKind.NoNumber] = Without(connection, FieldNames.Track),
            [UntidyKind.NumberGaps] = NumberGaps(connection),
            [UntidyKind.NoFrontCover] = connection.Query<long>(
                $"SELECT c.id FROM copy c WHERE {IsThere} AND NOT EXISTS (SELECT 1 FROM copy_artwork w WHERE w.copy_id = c.id)").AsList(),
            [UntidyKind.AlbumArtistDiffers] = Differs(connection, FieldNames.AlbumArtist),
            [UntidyKind.YearDiffers] = Differs(connection, FieldNames.Year),
            [UntidyKind.GenreDiffers] = Differs(connection, FieldNames.Genre),
            [UntidyKind.CoverDiffers] = connection.Query<long>(
                $"""
                SELECT c.id FROM copy c JOIN track t ON t.id = c.track_id WHERE {IsThere} AND t.album_id IN (
                    SELECT t.album_id FROM copy_artwork w JOIN copy c ON c.id = w.copy_id JOIN track t ON t.id = c.track_id WHERE {IsThere}
                        AND w.kind = 3
                    GROUP BY t.album_id HAVING COUNT(DISTINCT w.hash) > 1)
                """).AsList(),
            [UntidyKind.Adverts] = values.Where(Adverts.LookedAt, Adverts.IsIn),
            [UntidyKind.ArtistSpellings] = Spelt(values),
            [UntidyKind.WrongCodePage] = values.Where(
                [FieldNames.Title, FieldNames.Artist, FieldNames.Album, FieldNames.AlbumArtist, FieldNames.Comment, FieldNames.Composer],
                text => CodePages.Repair(text) is not null),
        };
    }

    private static List<long> Without(IDbConnection connection, string field) => connection.Query<long>(
        $"SELECT c.id FROM copy c WHERE {IsThere} AND NOT EXISTS (SELECT 1 FROM tag g WHERE g.copy_id = c.id "
            + "AND g.name = @field COLLATE NOCASE AND NOT g.from_name)",
        new { field }).AsList();

    /// <summary>Files of albums in which a field has several values, or is missing in some files.</summary>
    private static List<long> Differs(IDbConnection connection, string field) => connection.Query<long>(
        $"""
        SELECT c.id FROM copy c JOIN track t ON t.id = c.track_id WHERE {IsThere} AND t.album_id IN (
            SELECT t.album_id FROM copy c JOIN track t ON t.id = c.track_id JOIN album a ON a.id = t.album_id
                LEFT JOIN tag g ON g.copy_id = c.id AND g.name = @field COLLATE NOCASE AND NOT g.from_name
            WHERE {IsThere} AND a.title <> '' GROUP BY t.album_id HAVING COUNT(DISTINCT g.value) > 1)
        """,
        new { field }).AsList();

    /// <summary>Files of discs with missing or repeated numbers.</summary>
    private static List<long> NumberGaps(IDbConnection connection) => connection.Query<long>(
        $"""
        SELECT c.id FROM copy c JOIN track t ON t.id = c.track_id WHERE {IsThere} AND (t.album_id, COALESCE(t.disc, 0)) IN (
            SELECT t.album_id, COALESCE(t.disc, 0) FROM track t WHERE t.number IS NOT NULL
                AND EXISTS (SELECT 1 FROM copy c WHERE c.track_id = t.id AND {IsThere})
            GROUP BY 1, 2 HAVING COUNT(*) > 1 AND (MAX(t.number) <> COUNT(*) OR COUNT(DISTINCT t.number) <> COUNT(*))
                AND MAX(t.number) < 1000)
        """).AsList();

    private static List<long> Spelt(FieldValues values)
    {
        var rare = Spellings.Groups(values.Distinct(FieldNames.Artist))
            .SelectMany(group => group.Names.Select(each => each.Name))
            .ToHashSet(StringComparer.Ordinal);
        return rare.Count == 0 ? [] : values.Where([FieldNames.Artist], rare.Contains);
    }

    /// <summary>Looks at each distinct value once.</summary>
    private sealed class FieldValues(IDbConnection connection)
    {
        public IEnumerable<string> Distinct(string field) => connection.Query<string>(
            $"SELECT DISTINCT g.value FROM tag g JOIN copy c ON c.id = g.copy_id WHERE {IsThere} AND g.name = @field COLLATE NOCASE",
            new { field });

        public List<long> Where(IReadOnlyList<string> fields, Func<string, bool> isMeant)
        {
            var found = new HashSet<long>();
            foreach (var field in fields)
            {
                var meant = Distinct(field).Where(isMeant).ToList();
                if (meant.Count > 0)
                {
                    found.UnionWith(connection.Query<long>(
                        $"SELECT c.id FROM tag g JOIN copy c ON c.id = g.copy_id WHERE {IsThere} AND g.name = @field COLLATE NOCASE "
                            + "AND g.value IN (SELECT value FROM json_each(@list))",
                        new { field, list = System.Text.Json.JsonSerializer.Serialize(meant, TagsJson.Default.IReadOnlyListString) }));
                }
            }

            return [.. found];
        }
    }
}
