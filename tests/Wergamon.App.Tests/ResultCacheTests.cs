using Wergamon.App.Storage;

namespace Wergamon.App.Tests;

public sealed class ResultCacheTests
{
    [Fact]
    public void A_result_holds_until_something_changes()
    {
        var kept = new ResultCache<int>(8);
        int computed = 0;
        int Ask(long version) => kept.Get("a", version, mayBeOld: false, () => ++computed);
        Assert.Equal([1, 1, 2, 2, 3], new[] { Ask(1), Ask(1), Ask(2), Ask(2), Ask(1) });
        kept.Clear();
        Assert.Equal(4, Ask(1));
    }

    [Fact]
    public async Task While_changes_come_without_a_pause_the_last_result_is_given_and_a_new_one_made_behind_it()
    {
        var kept = new ResultCache<string>(8);
        Assert.Equal("first", kept.Get("a", 1, mayBeOld: true, () => "first"));
        using var mayEnd = new ManualResetEventSlim();
        int begun = 0;
        string Slow()
        {
            Interlocked.Increment(ref begun);
            mayEnd.Wait();
            return "second";
        }

        Assert.Equal("first", kept.Get("a", 2, mayBeOld: true, Slow));
        Assert.Equal("first", kept.Get("a", 3, mayBeOld: true, Slow));
        mayEnd.Set();
        // The renewal was begun at version 2; whoever needs the truth at 3 gets it computed.
        await RunningApp.UntilAsync(() => kept.Get("a", 2, mayBeOld: true, () => "never") == "second");
        Assert.Equal("third", kept.Get("a", 3, mayBeOld: false, () => "third"));
        Assert.Equal(1, begun);
    }

    [Fact]
    public void No_more_than_some_are_kept()
    {
        var kept = new ResultCache<int>(2);
        int computed = 0;
        foreach (var key in new[] { "a", "b", "c", "a" })
            kept.Get(key, 1, mayBeOld: false, () => ++computed);
        Assert.Equal(4, computed);
    }
}
