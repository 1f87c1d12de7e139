using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;
using System.Text.Json;
using Wergamon.App.Intake;
using Wergamon.App.Library;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Core.Audio;
using Wergamon.Web.Display;

namespace Wergamon.Web.Endpoints;

/// <summary>Server-sent events: tell open pages that something changed; the pages then fetch what they show.</summary>
internal static class Events
{
    /// <summary>Equal signals within this time are sent once.</summary>
    private static readonly TimeSpan BatchInterval = TimeSpan.FromMilliseconds(500);

    /// <summary>A run may end while no page listens, between one page and the next: a page that connects within this time is told.</summary>
    private static readonly TimeSpan TellEndsFor = TimeSpan.FromSeconds(30);

    public static void MapEvents(this WebApplication app) => app.MapGet("/events", (HttpContext context, Signals signals, RunStore runs, RipStore rips, TimeProvider time, IHostApplicationLifetime lifetime) =>
    {
        context.Response.Headers.CacheControl = "no-store";
        return TypedResults.ServerSentEvents(EventsAsync(signals, runs, rips, time, context.RequestAborted, lifetime.ApplicationStopping));
    });

    private static async IAsyncEnumerable<SseItem<string>> EventsAsync(
        Signals signals, RunStore runs, RipStore rips, TimeProvider time, CancellationToken aborted, CancellationToken stopping, [EnumeratorCancellation] CancellationToken cancellation = default)
    {
        using var ended = CancellationTokenSource.CreateLinkedTokenSource(aborted, stopping, cancellation);
        await using var batches = signals.ListenAsync(ended.Token).GetAsyncEnumerator(ended.Token);
        // Listening starts before the present state is told, so that nothing is lost between the two.
        var next = HasNextAsync(batches);
        try
        {
            // Changes between rendering the page and its connection, or while the server was away, would be missed: all parts refresh once.
            foreach (var kind in new[] { Signal.Library, Signal.Runs, Signal.Disc, Signal.Storage })
                yield return new SseItem<string>("{}", kind);
            foreach (long run in runs.EndedSince(time.GetUtcNow() - TellEndsFor))
                yield return new SseItem<string>(DataOf(new Signal(Signal.Ended, run), runs, rips), Signal.Ended);
            while (await next)
            {
                foreach (var signal in batches.Current)
                    yield return new SseItem<string>(DataOf(signal, runs, rips), signal.Kind);
                await Task.WhenAny(Task.Delay(BatchInterval, ended.Token));
                next = HasNextAsync(batches);
            }
        }
        finally
        {
            await ended.CancelAsync();
            await next;
        }
    }

    /// <summary>False once the page was closed or the server is stopping.</summary>
    private static async Task<bool> HasNextAsync(IAsyncEnumerator<IReadOnlyCollection<Signal>> batches)
    {
        try
        {
            return await batches.MoveNextAsync();
        }
        catch (OperationCanceledException)
        {
            return false;
        }
    }

    /// <summary>Passes on changes from folder scans and from background analysis, the same way as changes of runs.</summary>
    public static void ForwardLibrarySignals(this IServiceProvider services)
    {
        var signals = services.GetRequiredService<Signals>();
        void Tell() => signals.Send(new Signal(Signal.Library));
        services.GetRequiredService<MusicFolders>().Changed += Tell;
        services.GetRequiredService<BackgroundAnalysis>().Changed += Tell;
        services.GetRequiredService<Comparisons>().Changed += Tell;
    }

    private static string DataOf(Signal signal, RunStore runs, RipStore rips)
    {
        return signal.RunId is { } id && runs.Get(id) is { } run
            ? JsonSerializer.Serialize(new { run = id, text = RunWords.Ended(run, rips.CountUnproved(id)), address = $"/runs/{id}" })
            : "{}";
    }
}
