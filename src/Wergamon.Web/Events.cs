using System.Text.Json;
using Wergamon.App.Intake;
using Wergamon.App.Library;
using Wergamon.App.Runs;

namespace Wergamon.Web;

/// <summary>Server-sent events: tell open pages that something moved on; the pages then ask for what they show.</summary>
internal static class Events
{
    /// <summary>Signals of one kind within this time are told once.</summary>
    private static readonly TimeSpan AtMostEvery = TimeSpan.FromMilliseconds(500);

    public static void MapEvents(this WebApplication app) => app.MapGet("/events", async (HttpContext context, RunSignals signals, RunStore runs, RipStore rips) =>
    {
        context.Response.ContentType = "text/event-stream";
        context.Response.Headers.CacheControl = "no-store";
        var stopping = context.RequestServices.GetRequiredService<IHostApplicationLifetime>().ApplicationStopping;
        using var ended = CancellationTokenSource.CreateLinkedTokenSource(context.RequestAborted, stopping);
        // What happened between the page being made and its listening, or while the server was away, would be missed: all parts look once.
        await context.Response.WriteAsync("event: library\ndata: {}\n\nevent: runs\ndata: {}\n\nevent: disc\ndata: {}\n\n", ended.Token);
        await context.Response.Body.FlushAsync(ended.Token);
        try
        {
            await foreach (var batch in Batches(signals, ended.Token))
            {
                foreach (var signal in batch)
                    await context.Response.WriteAsync($"event: {signal.Kind}\ndata: {DataOf(signal, runs, rips)}\n\n", ended.Token);
                await context.Response.Body.FlushAsync(ended.Token);
            }
        }
        catch (OperationCanceledException)
        {
            // The page was closed or the server ends.
        }
    });

    /// <summary>Folders tell of music that came in, and the work in the background of what it found out; the pages learn of it by the same way as of runs.</summary>
    public static void ForwardLibrarySignals(this IServiceProvider services)
    {
        var signals = services.GetRequiredService<RunSignals>();
        void Tell() => signals.Send(new RunSignal("library"));
        services.GetRequiredService<MusicFolders>().Changed += Tell;
        services.GetRequiredService<Surveys>().Changed += Tell;
        services.GetRequiredService<Comparisons>().Changed += Tell;
    }

    private static async IAsyncEnumerable<IReadOnlyCollection<RunSignal>> Batches(
        RunSignals signals, [System.Runtime.CompilerServices.EnumeratorCancellation] CancellationToken cancellation)
    {
        var pending = new HashSet<RunSignal>();
        await using var source = signals.ListenAsync(cancellation).GetAsyncEnumerator(cancellation);
        var next = source.MoveNextAsync().AsTask();
        while (await next)
        {
            pending.Add(source.Current);
            next = source.MoveNextAsync().AsTask();
            if (next.IsCompleted)
                continue;
            yield return pending.ToList();
            pending.Clear();
            await Task.Delay(AtMostEvery, cancellation);
        }
    }

    private static string DataOf(RunSignal signal, RunStore runs, RipStore rips)
    {
        if (signal.RunId is not { } id || runs.Get(id) is not { } run)
            return "{}";
        int unproved = rips.CountUnproved(id);
        var text = run.Failed > 0 ? $"{run.Title}: {run.Done} proved, {run.Failed} failed"
            : run.Kind == RunKind.Rip ? $"{run.Title}: {Words.Count(run.Done, "file")} for {run.TargetName}, {(unproved == 0 ? "all proved" : $"{Words.Count(unproved, "track")} of the disc not proved")}"
            : $"{run.Title}: {Words.Count(run.Done, "track")} for {run.TargetName}, all proved";
        return JsonSerializer.Serialize(new { run = id, text, address = $"/runs/{id}" });
    }
}
