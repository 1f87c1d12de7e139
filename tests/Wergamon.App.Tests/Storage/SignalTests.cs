using Wergamon.App.Storage;

namespace Wergamon.App.Tests.Storage;

public sealed class SignalTests
{
    private static readonly Signal Library = new(Signal.Library), Runs = new(Signal.Runs), End = new(Signal.Ended, 7);

    private readonly Signals _signals = new();

    [Fact]
    public async Task A_page_hears_once_what_was_sent_after_it_was_made()
    {
        _signals.Send(Library);
        _signals.Send(Runs);
        var page = _signals.Now;
        _signals.Send(End);
        _signals.Send(Library);
        _signals.Send(Library);

        await using var listening = ListenAfter(page);
        Assert.Equal([End, Library], await NextAsync(listening));
        var told = listening.Current.Moment;

        // While nobody takes them, equal signals become one.
        for (int i = 0; i < 10_000; i++)
            _signals.Send(Runs);
        Assert.Equal([Runs], await NextAsync(listening));

        // Whoever lost the stream after the first batch goes on there.
        await using var again = ListenAfter(told);
        Assert.Equal([Runs], await NextAsync(again));
    }

    [Theory]
    [InlineData(null)]
    [InlineData("")]
    [InlineData("0-0")]
    [InlineData("nonsense")]
    public async Task After_an_unknown_moment_anything_may_have_changed(string? moment)
    {
        Assert.False(_signals.Knows(moment));
        await using var listening = ListenAfter(moment);
        Assert.Equal(
            [Signal.Disc, Signal.Ended, Signal.Library, Signal.Runs, Signal.Storage],
            (await NextAsync(listening)).Select(signal => signal.Kind).Order(StringComparer.Ordinal));
    }

    /// <summary>Whoever was away for longer than is remembered asks for everything, rather than miss what was forgotten.</summary>
    [Fact]
    public async Task After_too_many_ends_anything_may_have_changed()
    {
        var before = _signals.Now;
        _signals.Send(new Signal(Signal.Disc));
        for (int run = 1; run < 1000; run++)
            _signals.Send(new Signal(Signal.Ended, run));
        var late = _signals.Now;
        _signals.Send(new Signal(Signal.Ended, 1000));
        Assert.False(_signals.Knows(before));
        await using var away = ListenAfter(before);
        Assert.Contains(new Signal(Signal.Disc), await NextAsync(away));
        await using var there = ListenAfter(late);
        Assert.Equal([new Signal(Signal.Ended, 1000)], await NextAsync(there));
    }

    private IAsyncEnumerator<SignalBatch> ListenAfter(string? moment) =>
        _signals.ListenAsync(moment, TestContext.Current.CancellationToken).GetAsyncEnumerator();

    private static async Task<IReadOnlyList<Signal>> NextAsync(IAsyncEnumerator<SignalBatch> listening)
    {
        Assert.True(await listening.MoveNextAsync());
        return listening.Current.Signals;
    }
}
