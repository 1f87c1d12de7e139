using System.Data;
using Dapper;
using Wergamon.App.Library.Listening;
using Wergamon.App.Library.Matching;
using Wergamon.App.Library.Removing;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Matching;

namespace Wergamon.App.Library.Comparing;

/// <summary>Finds duplicates, proposes what to keep, and moves what the person chose to the trash.</summary>
public sealed class Duplicates(
    Database database, LibraryQueries library, TrackLines lines, TrackMatcher matcher, BackgroundAnalysis analysis, Comparisons comparisons,
    Trash trash, ChangeBackups backups)
{
    private readonly ResultCache<IReadOnlyList<object>> _groups = new(Enum.GetValues<DuplicateKind>().Length);

    /// <summary>Number of files of one group that are shown; when these are tidied, the next ones follow.</summary>
    private const int MaxInGroup = 50;

    /// <summary>The copies of a group: which exist now, and for which target they were made.</summary>
    private const string Present = "JOIN copy c ON c.id = l.copy_id LEFT JOIN lineage m ON m.copy_id = c.id WHERE NOT c.is_missing";

    private const string SameSound =
        $"""
        SELECT l.key AS name, SUM(c.file_bytes) - MAX(c.file_bytes) AS spare FROM match_key l {Present} AND l.name = 'samples'
        GROUP BY l.key HAVING COUNT(*) > COUNT(DISTINCT c.track_id || ' ' || COALESCE(m.target_name, '')) OR COUNT(DISTINCT c.track_id) > 1
        """;

    private const string SeveralLossy =
        """
        SELECT c.track_id AS name, SUM(c.file_bytes) - MAX(c.file_bytes) AS spare
        FROM copy c LEFT JOIN analysis s ON s.copy_id = c.id LEFT JOIN lineage m ON m.copy_id = c.id WHERE NOT c.is_missing
            AND NOT c.is_lossless
        GROUP BY c.track_id HAVING COUNT(*) > COUNT(DISTINCT COALESCE(m.target_name, '')) AND COUNT(DISTINCT COALESCE(s.samples, c.id)) > 1
        """;

    private static readonly string SameName =
        $"""
        SELECT l.key AS name, MAX(c.file_bytes) AS spare FROM match_key l JOIN copy c ON c.id = l.copy_id
        JOIN match_key other ON other.name = l.name AND other.key = l.key AND other.copy_id > l.copy_id JOIN copy d ON d.id = other.copy_id
        LEFT JOIN analysis s ON s.copy_id = c.id LEFT JOIN analysis t ON t.copy_id = d.id
        WHERE l.name = 'names' AND NOT c.is_missing AND NOT d.is_missing AND c.track_id <> d.track_id AND c.channels = d.channels
            AND ABS(1.0 * c.frame_count / c.sample_rate - 1.0 * d.frame_count / d.sample_rate) <= {NameMatch.Tolerance.TotalSeconds:0}
            AND (s.samples IS NULL OR t.samples IS NULL OR s.samples <> t.samples)
            AND NOT EXISTS (SELECT 1 FROM kept_separate WHERE copy_id = c.id AND other_copy_id = d.id)
        GROUP BY l.key
        """;

    /// <summary>Number of groups of each kind.</summary>
    public IReadOnlyList<DuplicateCount> Count() =>
        [.. Enum.GetValues<DuplicateKind>().Select(kind => new DuplicateCount(kind, NamesOf(kind).Count))];

    /// <summary>Groups of one kind from an offset on, the largest first.</summary>
    public IReadOnlyList<DuplicateGroup> List(DuplicateKind kind, int offset, int count)
    {
        var names = NamesOf(kind);
        using var connection = database.Open();
        return [.. names.Skip(offset).Take(count).Select(name => Read(connection, kind, name)).Where(group => group.Lines.Count > 1)];
    }

    /// <summary>Copies by ID, for the review before they are trashed.</summary>
    public IReadOnlyList<(CopyRow Copy, TrackRow Track)> Choose(IReadOnlyCollection<long> copyIds)
    {
        using var connection = database.Open();
        var tracks = library.TracksById(
            [.. connection.Query<long>("SELECT DISTINCT track_id FROM copy WHERE NOT is_missing AND id IN @copyIds", new { copyIds })]);
        return [
            .. tracks.SelectMany(
                track => track.Copies.Where(copy => copyIds.Contains(copy.Id) && !copy.IsMissing), (track, copy) => (copy, track))
        ];
    }

    /// <summary>Why these copies cannot all be trashed; null when nothing would be lost.</summary>
    public string? Refusal(IReadOnlyCollection<long> copyIds)
    {
        using var connection = database.Open();
        // Something has to remain of each: another copy of the track, or an equal file. A name alone is shared by versions of other
        // lengths.
        var lost = connection.QueryFirstOrDefault<string>(
            $"""
            SELECT t.title FROM copy c JOIN track t ON t.id = c.track_id WHERE c.id IN @copyIds
                AND NOT EXISTS (SELECT 1 FROM copy k WHERE k.track_id = c.track_id AND NOT k.is_missing AND k.id NOT IN @copyIds)
                AND NOT EXISTS (SELECT 1 FROM match_key l JOIN match_key o ON o.name = l.name AND o.key = l.key
                    JOIN copy k ON k.id = o.copy_id
                    WHERE l.copy_id = c.id AND NOT k.is_missing AND k.id NOT IN @copyIds
                    AND (l.name = 'samples' OR ABS(1.0 * c.frame_count / c.sample_rate - 1.0 * k.frame_count / k.sample_rate)
                        <= {NameMatch.Tolerance.TotalSeconds:0}))
            """,
            new { copyIds });
        return lost is null ? null : $"No file of “{lost}” would be left. Keep at least one.";
    }

    /// <summary>Moves files into the trash.</summary>
    public TidyResult Tidy(IReadOnlyCollection<long> copyIds)
    {
        if (Refusal(copyIds) is { } refusal)
            return new TidyResult(0, 0, [refusal]);
        if (copyIds.Count >= ChangeBackups.LeastFiles)
            backups.Start();
        var refusals = new List<string>();
        (int taken, long bytes) = (0, 0);
        foreach (var (copy, _) in Choose(copyIds))
        {
            if (trash.Take(copy, "tidied away as a double") is { } reason)
                refusals.Add(reason);
            else
                (taken, bytes) = (taken + 1, bytes + copy.FileBytes);
        }

        // Whoever tidied wants to see it gone.
        _groups.Clear();
        return new TidyResult(taken, bytes, refusals);
    }

    /// <summary>The key of each group of a kind, those that take most space first.</summary>
    private IReadOnlyList<object> NamesOf(DuplicateKind kind)
    {
        lines.RefreshForPage();
        return _groups.Get(kind.ToString(), lines.Version + matcher.Version, lines.IsBehind || analysis.IsUnderWay, () =>
        {
            using var connection = database.Open();
            return connection.Query<(object Name, long Spare)>($"SELECT name, spare FROM ({GroupsOf(kind)}) ORDER BY spare DESC, name")
                .Select(group => group.Name)
                .ToList();
        });
    }

    private static string GroupsOf(DuplicateKind kind) => kind switch
    {
        DuplicateKind.SameSound => SameSound,
        DuplicateKind.SeveralLossy => SeveralLossy,
        _ => SameName,
    };

    private DuplicateGroup Read(IDbConnection connection, DuplicateKind kind, object name)
    {
        var condition = kind switch
        {
            DuplicateKind.SameSound => "c.id IN (SELECT copy_id FROM match_key WHERE name = 'samples' AND key = @name)",
            DuplicateKind.SeveralLossy => "c.track_id = @name AND NOT c.is_lossless",
            _ => "c.id IN (SELECT copy_id FROM match_key WHERE name = 'names' AND key = @name)",
        };
        var ids = connection.Query<long>(
            $"SELECT c.id FROM copy c WHERE {condition} AND NOT c.is_missing ORDER BY c.track_id, c.id LIMIT {MaxInGroup}",
            new { name }).ToHashSet();
        var tracks = library.TracksById(
            [
                .. connection.Query<long>(
                    "SELECT DISTINCT track_id FROM copy WHERE id IN (SELECT value FROM json_each(@list)) ORDER BY track_id",
                    new { list = "[" + string.Join(',', ids) + "]" })
            ]);
        // Of tracks that only share a name, each is shown by its master copy.
        var files = kind == DuplicateKind.SameName
            ? tracks.Select(track => (Track: track, Copy: track.Master)).ToList()
            : tracks.SelectMany(track => track.Copies.Where(copy => ids.Contains(copy.Id)), (track, copy) => (Track: track, Copy: copy))
                .ToList();
        var advice = TidyProposal.For(
            kind, DuplicatesOf(connection, [.. files.Select(file => file.Copy)]),
            tracks.Any(track => track.Copies.Any(copy => copy.Sound.IsLossless && !copy.IsMissing)));
        return new DuplicateGroup(kind, [.. files.Select((file, at) =>
            new DuplicateLine(
                file.Copy, file.Track, advice[at],
                kind == DuplicateKind.SameName && at > 0 ? comparisons.Find(files[0].Copy, file.Copy) : null))]);
    }

    private static List<DuplicateFile> DuplicatesOf(IDbConnection connection, List<CopyRow> copies)
    {
        var more = connection.Query<(long Id, string? Target, int Pictures)>(
            """
            SELECT c.value, (SELECT target_name FROM lineage WHERE copy_id = c.value), (SELECT COUNT(*) FROM copy_artwork
                WHERE copy_id = c.value)
            FROM json_each(@list) c
            """,
            new { list = "[" + string.Join(',', copies.Select(copy => copy.Id)) + "]" }).ToDictionary(row => row.Id);
        return [.. copies.Select(copy => new DuplicateFile
        {
            CopyId = copy.Id,
            TrackId = copy.TrackId,
            Label = copy.Facts.ShortLabel,
            IsLossless = copy.Sound.IsLossless,
            Generation = copy.Generation,
            KilobitsPerSecond = copy.Sound.KilobitsPerSecond,
            MadeFor = more[copy.Id].Target,
            TagCount = copy.TagsTotal - copy.TagsFromName,
            PictureCount = copy.FolderCoverPath is null ? more[copy.Id].Pictures : 0,
            HoldsTagsWell = copy.Facts.FileFormat?.HoldsTagsWell ?? true,
            Bytes = copy.FileBytes,
            IsDamaged = copy.Sound.Damage is not null,
        })];
    }
}
