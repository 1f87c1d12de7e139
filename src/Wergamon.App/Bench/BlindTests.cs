using System.Security.Cryptography;
using Dapper;
using Wergamon.App.Storage;
using Wergamon.Core.Analysis;

namespace Wergamon.App.Bench;

/// <summary>A trial that was answered.</summary>
/// <param name="SaysFirst">What the person said: X is A.</param>
/// <param name="IsFirst">What X was.</param>
public sealed record BlindAnswer(int Trial, bool SaysFirst, bool IsFirst)
{
    public bool IsRight => SaysFirst == IsFirst;
}

/// <summary>A blind test. Answers and seed are only shown once it has ended.</summary>
/// <param name="Answers">In their order; see <see cref="IsOver"/>.</param>
public sealed record BlindTestRecord(long Id, NullTestRecord Test, byte[] Seed, int Trials, IReadOnlyList<BlindAnswer> Answers)
{
    public bool IsOver => Answers.Count >= Trials;

    /// <summary>The trial that is under way, from 1.</summary>
    public int Current => Answers.Count + 1;

    public int Right => Answers.Count(answer => answer.IsRight);

    /// <summary>See <see cref="BlindTrial.ByGuessing"/>.</summary>
    public double ByGuessing => BlindTrial.ByGuessing(Right, Answers.Count);
}

/// <summary>Blind tests: which of two sounds is X?</summary>
public sealed class BlindTests(Database database, NullTestStore tests, TimeProvider time)
{
    public const int MinTrials = 5, MaxTrials = 50;

    private const string Columns = "id, null_test_id, seed, trials";

    /// <summary>The newest first.</summary>
    public IReadOnlyList<BlindTestRecord> List(int max)
    {
        using var connection = database.Open();
        var rows = connection.Query<Row>($"SELECT {Columns} FROM blind_test ORDER BY id DESC LIMIT @max", new { max }).AsList();
        var compared = tests.List([.. rows.Select(row => row.NullTestId).Distinct()]);
        var answers = Answers(connection, [.. rows.Select(row => row.Id)]);
        return [
            .. rows.Where(row => compared.ContainsKey(row.NullTestId)).Select(row => Record(row, compared[row.NullTestId], answers[row.Id]))
        ];
    }

    public BlindTestRecord? Get(long id)
    {
        using var connection = database.Open();
        return connection.QueryFirstOrDefault<Row>($"SELECT {Columns} FROM blind_test WHERE id = @id", new { id }) is { } row
            && tests.Get(row.NullTestId) is { } test
            ? Record(row, test, Answers(connection, [id])[id])
            : null;
    }

    /// <param name="testId">A comparison whose sounds are still kept.</param>
    /// <param name="trials">From <see cref="MinTrials"/> to <see cref="MaxTrials"/>.</param>
    public long Start(long testId, int trials) => database.Change(connection => connection.ExecuteScalar<long>(
        "INSERT INTO blind_test (null_test_id, seed, trials, created_at) VALUES (@testId, @seed, @trials, @now) RETURNING id",
        new
        {
            testId,
            seed = RandomNumberGenerator.GetBytes(BlindTrial.SeedLength),
            trials,
            now = time.GetUtcNow().ToUnixTimeMilliseconds()
        }));

    /// <summary>Takes the answer to the current trial; a repeated one, or one for another trial, is ignored.</summary>
    public void Answer(long id, int trial, bool saysFirst) => database.Change(connection => connection.Execute(
        """
        INSERT OR IGNORE INTO blind_answer (blind_test_id, trial, says_first)
        SELECT @id, @trial, @saysFirst FROM blind_test WHERE id = @id AND @trial <= trials
            AND @trial = (SELECT COUNT(*) FROM blind_answer WHERE blind_test_id = @id) + 1
        """,
        new { id, trial, saysFirst }));

    public void Remove(long id) => database.Change(connection => connection.Execute("DELETE FROM blind_test WHERE id = @id", new { id }));

    private static ILookup<long, (long TestId, int Trial, bool SaysFirst)> Answers(
        System.Data.IDbConnection connection, IReadOnlyCollection<long> ids) =>
        connection.Query<(long TestId, int Trial, bool SaysFirst)>(
            "SELECT blind_test_id, trial, says_first FROM blind_answer WHERE blind_test_id IN @ids ORDER BY trial", new { ids })
            .ToLookup(answer => answer.TestId);

    private static BlindTestRecord Record(Row row, NullTestRecord test, IEnumerable<(long TestId, int Trial, bool SaysFirst)> answers) =>
        new(
            row.Id, test, row.Seed, row.Trials,
            [.. answers.Select(answer => new BlindAnswer(answer.Trial, answer.SaysFirst, BlindTrial.IsFirst(row.Seed, answer.Trial)))]);

    private sealed record Row
    {
        public long Id { get; init; }

        public long NullTestId { get; init; }

        public byte[] Seed { get; init; } = [];

        public int Trials { get; init; }
    }
}
