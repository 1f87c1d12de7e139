using System.Text.Json;
using Dapper;
using Wergamon.App.Storage;
using Wergamon.Core.Analysis.Comparing;

namespace Wergamon.App.Bench;

/// <summary>A null test with what it found.</summary>
/// <param name="RunId">The run that carries it out; null when that no longer exists.</param>
/// <param name="Result">Null before the end.</param>
/// <param name="Failure">Why there is no result.</param>
public sealed record NullTestRecord(
    long Id, ComparedSound First, ComparedSound Second, bool MatchesLevel, long? RunId, NullTestResult? Result, string? Failure)
{
    public string Title => First.Title.Length > 0 ? First.Title : Path.GetFileName(First.Path);
}

/// <summary>Null tests in the database.</summary>
public sealed class NullTestStore(Database database, TimeProvider time)
{
    private const string Columns = "id, first, second, matches_level, run_id, result, failure";

    /// <summary>Results without their spectra, which lists do not show.</summary>
    private const string LightColumns =
        "id, first, second, matches_level, run_id, json_remove(result, '$.bandEdges', '$.firstSpectrum', '$.secondSpectrum', "
            + "'$.residueSpectrum') AS result, failure";

    /// <summary>The newest first, without spectra.</summary>
    public IReadOnlyList<NullTestRecord> List(int max)
    {
        using var connection = database.Open();
        return [.. connection.Query<Row>($"SELECT {LightColumns} FROM null_test ORDER BY id DESC LIMIT @max", new { max }).Select(Record)];
    }

    /// <summary>These tests, without spectra.</summary>
    public IReadOnlyDictionary<long, NullTestRecord> List(IReadOnlyCollection<long> ids)
    {
        using var connection = database.Open();
        return connection.Query<Row>($"SELECT {LightColumns} FROM null_test WHERE id IN @ids", new { ids })
            .Select(Record)
            .ToDictionary(test => test.Id);
    }

    public int Count() => database.Read("null tests", connection => connection.ExecuteScalar<int>("SELECT COUNT(*) FROM null_test"));

    public NullTestRecord? Get(long id)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<Row>($"SELECT {Columns} FROM null_test WHERE id = @id", new { id }) is { } row
            ? Record(row)
            : null;
    }

    /// <summary>A test of these sounds that has been made, or is being made.</summary>
    public NullTestRecord? Find(ComparedSound first, ComparedSound second, bool matchesLevel)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<Row>(
            $"SELECT {Columns} FROM null_test WHERE first = @first AND second = @second AND matches_level = @matchesLevel "
                + "AND failure IS NULL ORDER BY id DESC LIMIT 1",
            new { first = Json(first), second = Json(second), matchesLevel }) is { } row ? Record(row) : null;
    }

    internal long Insert(
        System.Data.IDbConnection connection, ComparedSound first, ComparedSound second,
        bool matchesLevel) => connection.ExecuteScalar<long>(
        "INSERT INTO null_test (first, second, matches_level, created_at) VALUES (@first, @second, @matchesLevel, @now) RETURNING id",
        new { first = Json(first), second = Json(second), matchesLevel, now = time.GetUtcNow().ToUnixTimeMilliseconds() });

    /// <summary>Sets the run that makes it; earlier results are removed.</summary>
    internal static void SetRun(System.Data.IDbConnection connection, long id, long runId) =>
        connection.Execute("UPDATE null_test SET run_id = @runId, result = NULL, failure = NULL WHERE id = @id", new { id, runId });

    internal void Save(long id, NullTestResult? result, string? failure) => database.Change(connection => connection.Execute(
        "UPDATE null_test SET result = @result, failure = @failure WHERE id = @id",
        new { id, result = result is null ? null : JsonSerializer.Serialize(result, BenchJson.Default.NullTestResult), failure }));

    internal void Remove(long id) => database.Change(connection => connection.Execute("DELETE FROM null_test WHERE id = @id", new { id }));

    private static string Json(ComparedSound sound) => JsonSerializer.Serialize(sound, BenchJson.Default.ComparedSound);

    private static NullTestRecord Record(Row row) => new(
        row.Id,
        JsonSerializer.Deserialize(row.First, BenchJson.Default.ComparedSound)!,
        JsonSerializer.Deserialize(row.Second, BenchJson.Default.ComparedSound)!,
        row.MatchesLevel,
        row.RunId,
        row.Result is null ? null : JsonSerializer.Deserialize(row.Result, BenchJson.Default.NullTestResult),
        row.Failure);

    private sealed record Row
    {
        public long Id { get; init; }

        public string First { get; init; } = "";

        public string Second { get; init; } = "";

        public bool MatchesLevel { get; init; }

        public long? RunId { get; init; }

        public string? Result { get; init; }

        public string? Failure { get; init; }
    }
}
