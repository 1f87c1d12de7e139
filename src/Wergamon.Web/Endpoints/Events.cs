using System.Net.ServerSentEvents;
using System.Runtime.CompilerServices;
using System.Text.Json;
using Microsoft.AspNetCore.Mvc;
using Wergamon.App.Library.Comparing;
using Wergamon.App.Library.Listening;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Web.Display;

namespace Wergamon.Web.Endpoints;

/// <summary>Server-sent events: tell open pages that something changed; the pages then fetch what they show.</summary>
internal static class Events
{
    /// <summary>Equal signals within this time are sent once.</summary>
    private static readonly TimeSpan BatchInterval = TimeSpan.FromMilliseconds(500);

    /// <summary>
    /// A run may end while no page listens, between one page and the next: a page that connects within this time gets the event.
    /// </summary>
    private static readonly TimeSpan TellEndsFor = TimeSpan.FromSeconds(30);

    /// <remarks>
    /// A page states in its address which event it already shows (see <see cref="LastEvents"/>); what the browser itself states when it
    /// connects again is newer.
    /// </remarks>
    public static void MapEvents(this WebApplication app) => app.MapGet(
        "/events",
        (HttpContext context, string? after, [FromHeader(Name = "Last-Event-ID")] string? last, Signals signals, RunStore runs,
            RunLabels words, TimeProvider time, IHostApplicationLifetime lifetime) =>
        {
            context.Response.Headers.CacheControl = "no-store";
            return TypedResults.ServerSentEvents(
                EventsAsync(
                    signals.Knows(last) ? last : signals.Knows(after) ? after : null, signals, runs, words, time, context.RequestAborted,
                    lifetime.ApplicationStopping));
        });

    private static async IAsyncEnumerable<SseItem<string>> EventsAsync(
        string? after, Signals signals, RunStore runs, RunLabels words, TimeProvider time, CancellationToken aborted,
        CancellationToken stopping, [EnumeratorCancellation] CancellationToken cancellation = default)
    {
        using var ended = CancellationTokenSource.CreateLinkedTokenSource(aborted, stopping, cancellation);
        await using var batches = signals.ListenAsync(after, ended.Token).GetAsyncEnumerator(ended.Token);
        // Listening starts before anything is sent, so that nothing is lost between the two.
        var next = HasNextAsync(batches);
        try
        {
            foreach (long run in runs.EndedSince(time.GetUtcNow() - TellEndsFor))
                yield return EventOf(new Signal(Signal.EndedBefore, run), after, runs, words);
            while (await next)
            {
                var (told, moment) = batches.Current;
                for (int i = 0; i < told.Count; i++)
                {
                    // A page that loses the stream in the middle of a batch asks for all of it again.
                    if (i == told.Count - 1)
                        after = moment;
                    yield return EventOf(told[i], after, runs, words);
                }

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
    private static async Task<bool> HasNextAsync(IAsyncEnumerator<SignalBatch> batches)
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

    private static SseItem<string> EventOf(Signal signal, string? after, RunStore runs, RunLabels words)
    {
        string data = signal.RunId is { } id && runs.Get(id) is { } run
            ? JsonSerializer.Serialize(new { run = id, text = words.Ended(run), address = $"/runs/{id}" })
            : "{}";
        return new SseItem<string>(data, signal.Kind) { EventId = after };
    }
}
