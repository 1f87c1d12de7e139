using System.Data;
using System.Text.Json;
using Dapper;
using Wergamon.App.Storage;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Planning;

namespace Wergamon.App.Bench;

/// <summary>One encoding of a series.</summary>
/// <param name="Sound">Its file in the cache.</param>
/// <param name="Original">Compared with the sound that the series started from.</param>
/// <param name="Previous">Compared with the previous pass; without spectra.</param>
public sealed record PassRecord(int Number, ComparedSound Sound, NullTestResult Original, NullTestResult Previous);

/// <summary>All passes with one target.</summary>
public sealed record PassSeries(long Id, Target Target, IReadOnlyList<PassRecord> Passes);

/// <summary>A sound that is encoded repeatedly, with one target or several.</summary>
/// <param name="Count">Passes of each series.</param>
public sealed record PassesRecord(long Id, ComparedSound Source, int Count, long? RunId, IReadOnlyList<PassSeries> Series);

/// <summary>A line of the list: "MP3 192 and FLAC, 8 passes".</summary>
public sealed record PassesLine(long Id, string Title, string Targets, int Count);

/// <summary>Passes in the database.</summary>
public sealed class PassStore(Database database, TimeProvider time)
{
    /// <summary>The newest first.</summary>
    public IReadOnlyList<PassesLine> List(int max)
    {
        using var connection = database.Open();
        var rows = connection.Query<(long Id, string Source, int Count)>(
            "SELECT id, source, count FROM passes ORDER BY id DESC LIMIT @max", new { max }).AsList();
        var targets = connection.Query<(long PassesId, string Target)>(
            "SELECT passes_id, target FROM pass_series WHERE passes_id IN (SELECT id FROM passes ORDER BY id DESC LIMIT @max) "
                + "ORDER BY position",
            new { max }).ToLookup(row => row.PassesId, row => TargetOf(row.Target).Name);
        return [.. rows.Select(row => new PassesLine(row.Id, SoundOf(row.Source).Title, string.Join(" and ", targets[row.Id]), row.Count))];
    }

    public PassesRecord? Get(long id)
    {
        using var connection = database.Open();
        var head = connection.QueryFirstOrDefault<(long Id, string Source, int Count, long? RunId)>(
            "SELECT id, source, count, run_id FROM passes WHERE id = @id", new { id });
        if (head.Source is null)
            return null;
        var passes = connection.Query<(long SeriesId, int Number, string Sound, string Original, string Previous)>(
            "SELECT series_id, number, sound, original, previous FROM pass WHERE series_id IN (SELECT id FROM pass_series "
                + "WHERE passes_id = @id) ORDER BY number",
            new { id })
            .ToLookup(
                row => row.SeriesId, row => new PassRecord(row.Number, SoundOf(row.Sound), ResultOf(row.Original), ResultOf(row.Previous)));
        var series = connection.Query<(long Id, string Target)>(
            "SELECT id, target FROM pass_series WHERE passes_id = @id ORDER BY position", new { id });
        return new PassesRecord(
            head.Id, SoundOf(head.Source), head.Count, head.RunId,
            [.. series.Select(row => new PassSeries(row.Id, TargetOf(row.Target), [.. passes[row.Id]]))]);
    }

    internal (long Id, IReadOnlyList<long> Series) Insert(
        IDbConnection connection, ComparedSound source, int count, IReadOnlyList<Target> targets)
    {
        long id = connection.ExecuteScalar<long>(
            "INSERT INTO passes (source, count, created_at) VALUES (@source, @count, @now) RETURNING id",
            new
            {
                source = JsonSerializer.Serialize(source, BenchJson.Default.ComparedSound),
                count,
                now = time.GetUtcNow().ToUnixTimeMilliseconds()
            });
        return (id, [.. targets.Select((target, position) => connection.ExecuteScalar<long>(
            "INSERT INTO pass_series (passes_id, position, target) VALUES (@id, @position, @target) RETURNING id",
            new { id, position, target = JsonSerializer.Serialize(target, PlanningJson.Default.Target) }))]);
    }

    internal static void SetRun(IDbConnection connection, long id, long runId) =>
        connection.Execute("UPDATE passes SET run_id = @runId WHERE id = @id", new { id, runId });

    /// <summary>Removes the passes that were made; the series are kept.</summary>
    internal static void Clear(IDbConnection connection, long id) =>
        connection.Execute("DELETE FROM pass WHERE series_id IN (SELECT id FROM pass_series WHERE passes_id = @id)", new { id });

    internal void Save(long seriesId, PassRecord pass) => database.Change(connection => connection.Execute(
        "INSERT OR REPLACE INTO pass (series_id, number, sound, original, previous) "
            + "VALUES (@seriesId, @Number, @sound, @original, @previous)",
        new
        {
            seriesId,
            pass.Number,
            sound = JsonSerializer.Serialize(pass.Sound, BenchJson.Default.ComparedSound),
            original = JsonSerializer.Serialize(pass.Original, BenchJson.Default.NullTestResult),
            previous = JsonSerializer.Serialize(pass.Previous, BenchJson.Default.NullTestResult),
        }));

    internal void Remove(long id) => database.Change(connection => connection.Execute("DELETE FROM passes WHERE id = @id", new { id }));

    private static ComparedSound SoundOf(string json) => JsonSerializer.Deserialize(json, BenchJson.Default.ComparedSound)!;

    private static NullTestResult ResultOf(string json) => JsonSerializer.Deserialize(json, BenchJson.Default.NullTestResult)!;

    private static Target TargetOf(string json) => JsonSerializer.Deserialize(json, PlanningJson.Default.Target)!;
}
