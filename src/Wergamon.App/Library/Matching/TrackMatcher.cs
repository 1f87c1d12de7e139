using System.Data;
using Dapper;
using Microsoft.Extensions.Logging;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Matching;

namespace Wergamon.App.Library.Matching;

/// <summary>Why a copy belongs to the track of another.</summary>
public sealed record MatchRow
{
    public long CopyId { get; init; }

    public long WithCopyId { get; init; }

    public string Rule { get; init; } = "";

    public long MatchedAt { get; init; }
}

/// <summary>Joins the files of one track. Every match is recorded with its rule and can be undone.</summary>
/// <remarks>
/// <para>
/// A wrong match is worse than a missing one: its tags could be written to other music, and one of the two could be removed as a
/// duplicate. So each file comes into the library as a track of its own, and is joined to another only by a rule that can be shown
/// to the person (<see cref="MatchRule.All"/>, the surest first: equal samples, then equal names and length). Files that were made
/// here need no rule; their lineage says to which track they belong.
/// </para>
/// <para>
/// Comparing every file with every other is out of the question with 50,000 tracks. Triggers note the copies whose tags, length or
/// analysis have changed (<c>to_match</c>). For each of them every rule gives a key (<c>match_key</c>), and only files with the same
/// key are compared by <see cref="MatchRule.Fits"/>. Two tracks become one when the two files fit and when no file of the one
/// contradicts any file of the other (<see cref="CopyTraits.IsCompatibleWith"/>): a chain of small tolerances must not join what differs
/// at its ends.
/// </para>
/// <para>
/// A match lasts as long as its reason. When a file turns out to have other samples than those it was joined by, the file and all that
/// was made from it leave the track, unless another rule keeps them. Copies that were joined through it then need their own reason.
/// What the person separates stays separate (<c>kept_separate</c>), whatever rules say, until they join it again.
/// </para>
/// </remarks>
public sealed class TrackMatcher(
    Database database, NewTracks tracks, CopyHistory history, TimeProvider time, ILogger<TrackMatcher> logger)
{
    private const int BatchSize = 500;

    private long _version;

    /// <summary>Thousands of files with equal samples are not joined to one track: that would take very long and help nobody.</summary>
    private const int MaxCopies = 50, MaxOthers = 20;

    /// <summary>The rule recorded for copies that were separated and joined again.</summary>
    private const string ByPerson = "person";

    /// <summary>For the person: why two copies were joined.</summary>
    public static string InWords(string rule) => MatchRule.All.FirstOrDefault(each => each.Name == rule)?.InWords ?? "joined by you";

    /// <summary>Changes whenever matches may have changed.</summary>
    public long Version => Interlocked.Read(ref _version);

    /// <summary>Compares all new or changed copies with the others.</summary>
    public void Refresh()
    {
        using var connection = database.Open();
        while (connection.Query<long>($"SELECT copy_id FROM to_match LIMIT {BatchSize}").AsList() is { Count: > 0 } ids)
        {
            IsolatedBatch.Change(database, logger, ids, Match, SetAside);
            Interlocked.Increment(ref _version);
        }
    }

    /// <summary>
    /// Separates a copy, and what was made from it, into a track of its own; returns that track, or null when the copy is the only one.
    /// </summary>
    public long? Separate(long copyId)
    {
        long? newTrack = null;
        database.Change(connection =>
        {
            var moved = TrackMerge.WithDescendants(connection, copyId);
            var staying = connection.Query<long>(
                "SELECT id FROM copy WHERE track_id = (SELECT track_id FROM copy WHERE id = @copyId) AND id NOT IN @moved",
                new { copyId, moved }).AsList();
            if (staying.Count == 0)
                return;
            newTrack = tracks.InsertFor(connection, copyId);
            TrackMerge.Split(connection, moved, newTrack.Value);
            connection.Execute(
                "INSERT OR IGNORE INTO kept_separate (copy_id, other_copy_id) VALUES (@low, @high)",
                moved.SelectMany(_ => staying, (one, other) => new { low = Math.Min(one, other), high = Math.Max(one, other) }));
            history.Note(connection, moved, "separated from other copies");
        });
        Interlocked.Increment(ref _version);
        return newTrack;
    }

    /// <summary>Joins two copies that were separated; returns the track that holds both, or null when they were not separated.</summary>
    public long? Rejoin(long copyId, long otherId)
    {
        long? track = null;
        database.Change(connection =>
        {
            long own = connection.ExecuteScalar<long>("SELECT track_id FROM copy WHERE id = @copyId", new { copyId });
            long? apart = connection.QueryFirstOrDefault<long?>(
                $"SELECT track_id FROM copy WHERE id = @otherId AND id IN {SeparatedFrom} AND track_id <> @own AND NOT is_trashed",
                new { copyId, otherId, own });
            if (apart is not { } otherTrack)
                return;
            connection.Execute(
                """
                DELETE FROM kept_separate WHERE copy_id IN (SELECT id FROM copy WHERE track_id = @own)
                    AND other_copy_id IN (SELECT id FROM copy WHERE track_id = @otherTrack)
                    OR copy_id IN (SELECT id FROM copy WHERE track_id = @otherTrack)
                        AND other_copy_id IN (SELECT id FROM copy WHERE track_id = @own)
                """,
                new { own, otherTrack });
            Record(connection, copyId, otherId, ByPerson);
            history.Note(connection, copyId, "joined again with other copies");
            TrackMerge.Merge(connection, own, otherTrack);
            TrackMerge.RemoveEmptyAlbums(connection);
            track = otherTrack;
        });
        Interlocked.Increment(ref _version);
        return track;
    }

    /// <summary>Matches of the copies of a track.</summary>
    public IReadOnlyList<MatchRow> Of(long trackId)
    {
        using var connection = database.Open();
        return connection.Query<MatchRow>(
            "SELECT j.copy_id, j.with_copy_id, j.rule, j.matched_at FROM track_match j JOIN copy c ON c.id = j.copy_id "
                + "WHERE c.track_id = @trackId",
            new { trackId }).AsList();
    }

    /// <summary>The copies from which this one was separated: the master of each track.</summary>
    public IReadOnlyList<CopyRow> TakenFrom(long copyId)
    {
        using var connection = database.Open();
        return
        [
            .. CopyRows.Read(
                connection,
                $"c.id IN {SeparatedFrom} AND c.track_id <> (SELECT track_id FROM copy WHERE id = @copyId) AND NOT c.is_trashed",
                new { copyId }).DistinctBy(copy => copy.TrackId)
        ];
    }

    private const string SeparatedFrom =
        "(SELECT other_copy_id FROM kept_separate WHERE copy_id = @copyId UNION SELECT copy_id FROM kept_separate "
            + "WHERE other_copy_id = @copyId)";

    /// <summary>A copy that cannot be compared stays a separate track until its file changes.</summary>
    private static void SetAside(IDbConnection connection, long copyId, Exception failure)
    {
        connection.Execute("DELETE FROM to_match WHERE copy_id = @copyId", new { copyId });
        IsolatedBatch.ListCopy(connection, copyId, failure);
    }

    private void Match(IDbConnection connection, IReadOnlyList<long> ids)
    {
        var list = new { list = "[" + string.Join(',', ids) + "]" };
        var copies = CopyTraitsRows.Read(connection, "c.id IN (SELECT value FROM json_each(@list))", list);
        connection.Execute("DELETE FROM to_match WHERE copy_id IN (SELECT value FROM json_each(@list))", list);
        connection.Execute("DELETE FROM match_key WHERE copy_id IN (SELECT value FROM json_each(@list))", list);
        var keys = copies.Where(copy => !copy.IsTrashed)
            .SelectMany(copy => MatchRule.All, (copy, rule) => (CopyId: copy.Id, rule.Name, Key: rule.KeyOf(copy.Traits)))
            .Where(row => row.Key is not null)
            .ToList();
        connection.Execute(
            "INSERT INTO match_key (copy_id, name, key) VALUES (@CopyId, @Name, @Key)",
            keys.Select(row => new { row.CopyId, row.Name, row.Key }));
        bool joined = RemoveStaleMatches(connection, copies);
        foreach (var rule in MatchRule.All)
        {
            foreach (var (copyId, key) in keys.Where(row => row.Name == rule.Name).Select(row => (row.CopyId, row.Key)))
            {
                foreach (long otherId in OthersLike(connection, rule.Name, key!, copyId))
                    joined |= TryMerge(connection, rule, copyId, otherId);
            }
        }

        if (joined)
            TrackMerge.RemoveEmptyAlbums(connection);
    }

    /// <summary>
    /// Matches for equal samples end when the file of a copy holds others by now; without another reason to stay, the copy leaves
    /// the track. True when tracks parted.
    /// </summary>
    private bool RemoveStaleMatches(IDbConnection connection, List<MatchCandidate> changed)
    {
        bool parted = false;
        foreach (var copy in changed.Where(copy => copy.Traits.Samples is not null))
        {
            var came = connection.Query<long>(
                """
                DELETE FROM track_match WHERE rule = @rule AND (copy_id = @Id
                    AND EXISTS (SELECT 1 FROM analysis a WHERE a.copy_id = with_copy_id AND a.samples <> @Samples)
                    OR with_copy_id = @Id AND EXISTS (SELECT 1 FROM analysis a WHERE a.copy_id = track_match.copy_id
                        AND a.samples <> @Samples)) RETURNING copy_id
                """,
                new { copy.Id, copy.Traits.Samples, rule = SampleMatch.RuleName }).AsList();
            if (came.Count == 0)
                continue;
            if (!StaysForAnotherReason(connection, copy.TrackId, copy.Id))
                parted |= Part(connection, copy.TrackId, copy.Id);
            parted |= RematchOrphans(connection, copy.TrackId, came.Where(id => id != copy.Id));
        }

        return parted;
    }

    /// <summary>Moves a copy and all that was made from it to a new track; false when the track has no other copy.</summary>
    private bool Part(IDbConnection connection, long trackId, long copyId)
    {
        var moved = TrackMerge.WithDescendants(connection, copyId);
        if (connection.ExecuteScalar<int>("SELECT COUNT(*) FROM copy WHERE track_id = @trackId", new { trackId }) == moved.Count)
            return false;
        var orphans = connection.Query<long>(
            "SELECT copy_id FROM track_match WHERE with_copy_id IN @moved AND copy_id NOT IN @moved", new { moved }).AsList();
        TrackMerge.Split(connection, moved, tracks.InsertFor(connection, copyId));
        history.Note(connection, moved, "separated from other copies: the samples are no longer equal");
        RematchOrphans(connection, trackId, orphans);
        return true;
    }

    /// <summary>Copies that were joined through one that left need another reason to stay. True when one of them left, too.</summary>
    private bool RematchOrphans(IDbConnection connection, long trackId, IEnumerable<long> orphans)
    {
        bool parted = false;
        foreach (long orphan in orphans)
        {
            bool othersCameToIt = connection.ExecuteScalar<bool>(
                "SELECT EXISTS (SELECT 1 FROM track_match WHERE with_copy_id = @orphan)", new { orphan });
            if (!othersCameToIt && !StaysForAnotherReason(connection, trackId, orphan))
                parted |= Part(connection, trackId, orphan);
        }

        return parted;
    }

    /// <summary>Records the first rule by which the copy matches another one of its track; false when there is none.</summary>
    private bool StaysForAnotherReason(IDbConnection connection, long trackId, long copyId)
    {
        var all = CopyTraitsRows.Read(connection, "c.track_id = @trackId", new { trackId });
        var family = TrackMerge.WithDescendants(connection, copyId);
        if (all.Find(copy => copy.Id == copyId) is not { } copy)
            return true;
        var reason = MatchRule.All
            .SelectMany(
                rule => all.Where(other => !family.Contains(other.Id) && Match(rule, copy, other)),
                (rule, other) => (Rule: rule, Other: other))
            .FirstOrDefault();
        if (reason.Rule is null)
            return false;
        Record(connection, copyId, reason.Other.Id, reason.Rule.Name);
        return true;
    }

    private static bool Match(MatchRule rule, MatchCandidate one, MatchCandidate other) =>
        rule.KeyOf(one.Traits) is { } key && key == rule.KeyOf(other.Traits) && rule.Fits(one.Traits, other.Traits)
            && one.Traits.IsCompatibleWith(other.Traits);

    /// <summary>One copy of each other track that matches a copy.</summary>
    private static List<long> OthersLike(IDbConnection connection, string rule, string key, long copyId) => connection.Query<long>(
        $"""
        SELECT MIN(c.id) FROM match_key l JOIN copy c ON c.id = l.copy_id
        WHERE l.name = @rule AND l.key = @key AND c.track_id <> (SELECT track_id FROM copy WHERE id = @copyId) GROUP BY c.track_id
            LIMIT {MaxOthers}
        """,
        new { rule, key, copyId }).AsList();

    private bool TryMerge(IDbConnection connection, MatchRule rule, long copyId, long otherId)
    {
        var all = CopyTraitsRows.Read(
            connection, "c.track_id IN (SELECT track_id FROM copy WHERE id IN (@copyId, @otherId))", new { copyId, otherId });
        var copy = all.Single(each => each.Id == copyId);
        var other = all.Single(each => each.Id == otherId);
        if (copy.TrackId == other.TrackId || all.Count > MaxCopies || !rule.Fits(copy.Traits, other.Traits))
            return false;
        var tracks = all.ToLookup(each => each.TrackId);
        if (!tracks[copy.TrackId].All(one => tracks[other.TrackId].All(two => one.Traits.IsCompatibleWith(two.Traits))))
            return false;
        if (AreKeptSeparate(connection, copy.TrackId, other.TrackId))
            return false;
        var (stays, comes) = RankOf(tracks[copy.TrackId]).CompareTo(RankOf(tracks[other.TrackId])) > 0 ? (copy, other) : (other, copy);
        Record(connection, comes.Id, stays.Id, rule.Name);
        history.Note(connection, comes.Id, $"joined with another copy: {rule.InWords}");
        TrackMerge.Merge(connection, comes.TrackId, stays.TrackId);
        return true;
    }

    /// <summary>The track with an album keeps its names; otherwise the one with a lossless file, otherwise the older one.</summary>
    private static (bool HasAlbum, bool IsLossless, long Age) RankOf(IEnumerable<MatchCandidate> track) =>
        (track.Any(copy => copy.Traits.Album is not null), track.Any(copy => copy.Traits.IsLossless), -track.First().TrackId);

    private static bool AreKeptSeparate(IDbConnection connection, long one, long other) => connection.ExecuteScalar<bool>(
        """
        SELECT EXISTS (SELECT 1 FROM kept_separate k JOIN copy a ON a.id = k.copy_id JOIN copy b ON b.id = k.other_copy_id
            WHERE a.track_id = @one AND b.track_id = @other OR a.track_id = @other AND b.track_id = @one)
        """,
        new { one, other });

    private void Record(IDbConnection connection, long copyId, long withCopyId, string rule) => connection.Execute(
        "INSERT OR IGNORE INTO track_match (copy_id, with_copy_id, rule, matched_at) VALUES (@copyId, @withCopyId, @rule, @now)",
        new { copyId, withCopyId, rule, now = time.GetUtcNow().ToUnixTimeMilliseconds() });
}
