using System.Collections.Concurrent;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Runs;

/// <summary>
/// Carries runs out: takes waiting items one after another, as many at a time as there are workers, and sees each through
/// encoding, proof and publishing. What a killed server left half done is cleared up or finished first.
/// </summary>
public sealed class RunEngine(
    RunStore runs, RunProgress progress, RunSignals signals, WorkerPool workers, CopyWork copyWork, Publisher publisher, AppOptions options, ILogger<RunEngine> logger)
    : BackgroundService
{
    private static readonly TimeSpan SignalEvery = TimeSpan.FromSeconds(1);

    /// <summary>Temporary names start with this, so that players and scanners pass them over.</summary>
    internal const string TemporaryPrefix = ".wergamon-";

    private readonly SemaphoreSlim _wake = new(0);
    private readonly ConcurrentDictionary<long, CancellationTokenSource> _stops = new();

    /// <summary>Raised when a run goes on after a stop or a failure.</summary>
    public event Action? Resumed;

    /// <summary>Raised with the number of a run that has come to its end.</summary>
    public event Action<long>? Ended;

    /// <summary>Lets the engine look for work: a run was made or goes on.</summary>
    public void Wake() => _wake.Release();

    /// <summary>Is cancelled when the run is stopped.</summary>
    public CancellationToken StopTokenOf(long runId, CancellationToken cancellation) =>
        _stops.GetOrAdd(runId, _ => CancellationTokenSource.CreateLinkedTokenSource(cancellation)).Token;

    /// <summary>Stops a run: what is finished stays, what is under way begins anew when it goes on.</summary>
    /// <param name="reason">Why, when no person asked for it.</param>
    public void Stop(long runId, string? reason = null)
    {
        runs.SetRunState(runId, RunState.Stopped, reason);
        if (_stops.TryRemove(runId, out var stop))
            stop.Cancel();
        runs.AddActiveTime(runId, progress.TakeActive(runId, goesOn: false));
        signals.Send(new RunSignal("runs"));
    }

    public void GoOn(long runId)
    {
        runs.SetRunState(runId, RunState.Running);
        Wake();
        Resumed?.Invoke();
        signals.Send(new RunSignal("runs"));
    }

    public void RetryFailed(long runId)
    {
        runs.RetryFailed(runId);
        Wake();
        Resumed?.Invoke();
        signals.Send(new RunSignal("runs"));
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await Task.Yield();
        await ClearUpAsync(stoppingToken).ConfigureAwait(false);
        var lanes = Enumerable.Range(0, options.WorkerCount).Select(_ => WorkLaneAsync(stoppingToken)).Append(SignalAsync(stoppingToken));
        Wake();
        await Task.WhenAll(lanes).ConfigureAwait(false);
    }

    private async Task ClearUpAsync(CancellationToken cancellation)
    {
        foreach (var item in runs.ItemsInState(ItemState.Working))
        {
            DeleteTemporary(item.TemporaryPath);
            runs.SetWaiting(item.Id);
            logger.LogInformation("Run {RunId} item {ItemId}: was under way when the server ended, begins anew", item.RunId, item.Id);
        }

        foreach (var item in runs.ItemsInState(ItemState.Proved))
            await FinishAsync(item, cancellation).ConfigureAwait(false);
        foreach (var run in runs.InState(RunState.Running))
            Close(run.Id);
    }

    /// <summary>
    /// One lane works off items until there are none, then wakes the next and sleeps. While one item goes to the disk and is given
    /// its name, the worker has the next.
    /// </summary>
    private async Task WorkLaneAsync(CancellationToken cancellation)
    {
        var finishing = Task.CompletedTask;
        bool atWork = false;
        while (!cancellation.IsCancellationRequested)
        {
            if (runs.TakeNext() is { } item)
            {
                if (!atWork)
                    copyWork.Begin();
                atWork = true;
                // More may wait: another lane is woken before this one starts to work.
                Wake();
                var made = await ConvertAsync(item, cancellation).ConfigureAwait(false);
                await finishing.ConfigureAwait(false);
                finishing = Task.Run(() => EndItemAsync(item, made, cancellation), CancellationToken.None);
            }
            else
            {
                await finishing.ConfigureAwait(false);
                if (atWork)
                    copyWork.End();
                atWork = false;
                await _wake.WaitAsync(cancellation).ConfigureAwait(false);
            }
        }
    }

    /// <summary>Makes the copy and proves it; null where there is none to publish.</summary>
    private async Task<MadeCopy?> ConvertAsync(RunItemRow item, CancellationToken cancellation)
    {
        progress.Begin(item.RunId);
        var stop = StopTokenOf(item.RunId, cancellation);
        var temporary = "";
        try
        {
            if (runs.Get(item.RunId) is not { State: RunState.Running } run)
            {
                runs.SetWaiting(item.Id);
                return null;
            }

            temporary = PrepareTemporary(item, run.OutputFolder);
            var request = new WorkerRequest(Convert: item.ReadJob() with { OutputPath = temporary });
            var reply = await workers.RunAsync(request, step => progress.Report(item.Id, step), stop).ConfigureAwait(false);
            if (reply.Proof is { } proof)
                return new MadeCopy(temporary, proof);
            Fail(item, temporary, reply.Failure ?? "The worker gave no reason.");
        }
        catch (OperationCanceledException)
        {
            DeleteTemporary(temporary);
            runs.SetWaiting(item.Id);
        }
        catch (Exception failure) when (failure is WorkerLostException or IOException or UnauthorizedAccessException)
        {
            Fail(item, temporary, failure.Message);
        }

        return null;
    }

    private async Task EndItemAsync(RunItemRow item, MadeCopy? made, CancellationToken cancellation)
    {
        try
        {
            if (made != null && Keep(item, made) is { } proved)
                await FinishAsync(proved, cancellation).ConfigureAwait(false);
        }
        finally
        {
            progress.Forget(item.Id);
            Close(item.RunId);
            signals.Send(new RunSignal("runs"));
        }
    }

    /// <summary>Writes the proof down once the copy lies on the disk: a proved copy outlives a loss of power.</summary>
    private RunItemRow? Keep(RunItemRow item, MadeCopy made)
    {
        try
        {
            using var file = File.OpenHandle(made.TemporaryPath, FileMode.Open, FileAccess.ReadWrite);
            RandomAccess.FlushToDisk(file);
            return runs.SetProved(item.Id, made.Proof);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            Fail(item, made.TemporaryPath, $"The new file could not be kept: {failure.Message}");
            return null;
        }
    }

    private async Task FinishAsync(RunItemRow item, CancellationToken cancellation)
    {
        try
        {
            if (runs.Get(item.RunId) is { } run)
                await publisher.PublishAsync(item, run.OutputFolder, cancellation).ConfigureAwait(false);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            Fail(item, item.TemporaryPath, $"The proved file could not be given its name: {failure.Message}");
        }
    }

    private string PrepareTemporary(RunItemRow item, string outputFolder)
    {
        var folder = Path.GetDirectoryName(Path.Combine(outputFolder, item.RelativePath))!;
        Directory.CreateDirectory(folder);
        var path = Path.Combine(folder, $"{TemporaryPrefix}{item.Id}-{Guid.NewGuid().ToString("N")[..8]}.part");
        runs.SetTemporary(item.Id, path);
        return path;
    }

    private void Fail(RunItemRow item, string? temporary, string reason)
    {
        DeleteTemporary(temporary);
        runs.SetFailed(item.Id, reason);
        logger.LogWarning("Run {RunId} item {ItemId}: failed: {Reason}", item.RunId, item.Id, reason);
    }

    private void Close(long runId)
    {
        bool ended = runs.CloseIfEnded(runId);
        if (ended)
            _stops.TryRemove(runId, out _);
        if (runs.Get(runId) is not { State: RunState.Stopped })
            runs.AddActiveTime(runId, progress.TakeActive(runId, goesOn: !ended));
        if (!ended)
            return;
        logger.LogInformation("Run {RunId}: ended", runId);
        Ended?.Invoke(runId);
        signals.Send(new RunSignal("ended", runId));
    }

    private async Task SignalAsync(CancellationToken cancellation)
    {
        using var timer = new PeriodicTimer(SignalEvery);
        while (await timer.WaitForNextTickAsync(cancellation).ConfigureAwait(false))
        {
            if (!_stops.IsEmpty)
                signals.Send(new RunSignal("runs"));
        }
    }

    private void DeleteTemporary(string? path)
    {
        if (string.IsNullOrEmpty(path) || !Path.GetFileName(path).StartsWith(TemporaryPrefix, StringComparison.Ordinal))
            return;
        try
        {
            File.Delete(path);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            logger.LogWarning(failure, "A temporary file stays behind: {Path}", path);
        }
    }

    /// <summary>A copy that was made and proved, still under its temporary name.</summary>
    private sealed record MadeCopy(string TemporaryPath, Proof Proof);
}
