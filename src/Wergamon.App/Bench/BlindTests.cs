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

    /// <summary>The newest first.</summary>
    public IReadOnlyList<BlindTestRecord> List(int max)
    {
        using var connection = database.Open();
        var ids = connection.Query<long>("SELECT id FROM blind_test ORDER BY id DESC LIMIT @max", new { max });
        return [.. ids.Select(Get).OfType<BlindTestRecord>()];
    }

    public BlindTestRecord? Get(long id)
    {
        using var connection = database.Open();
        var row = connection.QueryFirstOrDefault<(long TestId, byte[] Seed, int Trials)>("SELECT null_test_id, seed, trials FROM blind_test WHERE id = @id", new { id });
        if (row.Seed is not { } seed || tests.Get(row.TestId) is not { } test)
            return null;
        var answers = connection.Query<(int Trial, bool SaysFirst)>("SELECT trial, says_first FROM blind_answer WHERE blind_test_id = @id ORDER BY trial", new { id });
        return new BlindTestRecord(id, test, seed, row.Trials, [.. answers.Select(answer => new BlindAnswer(answer.Trial, answer.SaysFirst, BlindTrial.IsFirst(seed, answer.Trial)))]);
    }

    /// <param name="testId">A comparison whose sounds are still kept.</param>
    /// <param name="trials">From <see cref="MinTrials"/> to <see cref="MaxTrials"/>.</param>
    public long Start(long testId, int trials) => database.Change(connection => connection.ExecuteScalar<long>(
        "INSERT INTO blind_test (null_test_id, seed, trials, created_at) VALUES (@testId, @seed, @trials, @now) RETURNING id",
        new { testId, seed = RandomNumberGenerator.GetBytes(BlindTrial.SeedLength), trials, now = time.GetUtcNow().ToUnixTimeMilliseconds() }));

    /// <summary>Takes the answer to the trial under way; one that comes twice, or out of turn, is passed over.</summary>
    public void Answer(long id, int trial, bool saysFirst) => database.Change(connection => connection.Execute(
        """
        INSERT OR IGNORE INTO blind_answer (blind_test_id, trial, says_first)
        SELECT @id, @trial, @saysFirst FROM blind_test WHERE id = @id AND @trial <= trials AND @trial = (SELECT COUNT(*) FROM blind_answer WHERE blind_test_id = @id) + 1
        """,
        new { id, trial, saysFirst }));

    public void Remove(long id) => database.Change(connection => connection.Execute("DELETE FROM blind_test WHERE id = @id", new { id }));
}
