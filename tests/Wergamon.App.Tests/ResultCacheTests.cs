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
    public async Task Under_constant_change_the_last_result_is_returned_and_refreshed_in_the_background()
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
        // The refresh was started at version 2; a caller that needs version 3 computes it.
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
