using CsCheck;
using Wergamon.App.Runs;

namespace Wergamon.App.Tests.Runs;

/// <summary>Failing and trying again in runs of any shape, carried out by the real scheduler.</summary>
public class RetryTests
{
    /// <summary>What each of the items before an item is to it: nothing, or one of the three reasons to wait.</summary>
    private static readonly Gen<WaitReason?[][]> Shapes = Gen.Int[1, 9]
        .SelectMany(count => Gen.Enum<WaitReason>().Nullable(0.6).Array[count].Array[count]);

    /// <summary>Items by position: which fail the first time, and whose results are gone afterwards.</summary>
    private static readonly Gen<(bool[] Fail, bool[] Lost)> Faults = Gen.Select(
        Gen.Int[0, 3].Select(number => number == 0).Array[9], Gen.Int[0, 3].Select(number => number == 0).Array[9]);

    [Fact]
    public async Task Retry_finishes_a_run_of_any_shape()
    {
        await using var app = await ScriptedRuns.StartAsync();
        await Gen.Select(Shapes, Faults).SampleAsync(
            async (shape, faults) =>
            {
                var run = await app.RunAsync(shape, faults.Fail);
                Assert.Equal(ScriptedRuns.Failing(shape, faults.Fail), run.Select(item => item.State == ItemState.Failed));
                var first = app.TakeLog();
                app.Lose(run.Where(item => item.State == ItemState.Done && faults.Lost[item.Position]));
                var retried = await app.RetryAsync(run[0].RunId, null);
                var second = app.TakeLog();
                if (run.All(item => item.State == ItemState.Done))
                {
                    Assert.Empty(second);
                    return;
                }

                // Everything is done in the end, each item with what it needs at hand, and what sums others up after them.
                Assert.All(retried, item => Assert.Equal((ItemState.Done, null), (item.State, item.Failure)));
                Assert.Empty(app.MissedNeeds);
                var last = first.Concat(second)
                    .Select((position, turn) => (position, turn))
                    .GroupBy(each => each.position)
                    .ToDictionary(each => each.Key, each => each.Max(turn => turn.turn));
                foreach (var (item, other) in Waits(shape, WaitReason.End))
                    Assert.True(last[item] > last[other], $"{item} sums up {other} and came before it.");
                // What only had its turn later is not done twice for that.
                Assert.All(second.Where(position => run[position].State == ItemState.Done && !faults.Lost[position]), position =>
                    Assert.Contains(Waits(shape, WaitReason.End), wait => wait.Item == position && second.Contains(wait.Other)));
            },
            iter: 60, threads: 1);
    }

    [Fact]
    public async Task Retry_of_one_item_leaves_others_that_failed_for_themselves()
    {
        await using var app = await ScriptedRuns.StartAsync();
        await Gen.Select(Shapes, Faults).SampleAsync(
            async (shape, faults) =>
            {
                var run = await app.RunAsync(shape, faults.Fail);
                if (run.FirstOrDefault(item => item.State == ItemState.Failed) is not { } chosen)
                    return;
                app.TakeLog();
                var retried = await app.RetryAsync(chosen.RunId, chosen.Id);
                var along = ScriptedRuns.TakesAlong(shape, run, chosen.Position);
                bool[] stillFailing = [.. run.Select(item => item.Failure == ScriptedRuns.Reason && !along.Contains(item.Position))];
                Assert.Equal(ScriptedRuns.Failing(shape, stillFailing), retried.Select(item => item.State == ItemState.Failed));
            },
            iter: 60, threads: 1);
    }

    private static IEnumerable<(int Item, int Other)> Waits(WaitReason?[][] shape, WaitReason reason) =>
        ScriptedRuns.Waits(shape).Where(wait => wait.Reason == reason).Select(wait => (wait.Item, wait.Other));
}
