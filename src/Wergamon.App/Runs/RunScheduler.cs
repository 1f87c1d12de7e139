using System.Collections.Concurrent;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Files;
using Wergamon.App.Storage;
using Wergamon.App.Workers;

namespace Wergamon.App.Runs;

/// <summary>Carries out the items of runs: as many at a time as their lanes allow, each by the handler of its kind.</summary>
/// <remarks>
/// <para>
/// Work here takes hours, and a server may be killed at any moment. So nothing that matters is kept in memory. A run and its items are
/// rows before the first of them begins, and each step of an item is a change of its row that is committed before the next:
/// waiting, working, then done, skipped or failed. What is in memory (the lanes in use, the tasks, the stop tokens) can be lost,
/// since the next start reads the same rows.
/// </para>
/// <para>
/// The loop does two things. It asks the store for the next item whose prerequisites are done and whose lane is free
/// (<see cref="RunStore.TakeNext"/> marks it as working in the same change, so that no item is taken twice), and it sleeps until it is
/// woken: by the store when work is added, and by each item that ends or gives its lane back. A lane is what an item needs
/// for itself. Drives, burners and sticks have one place, workers as many as the person allows. A handler gives its lane back early
/// (<see cref="ItemContext.ReleaseLane"/>) when only the disk is left to wait for.
/// </para>
/// <para>
/// A handler ends in one of four ways. An outcome ends its item. <see cref="RunStoppedException"/> stops the whole run with a
/// reason, and where that is a full or missing disk, the run continues by itself when the disk is back. Being cancelled, because the
/// person stopped the run or the server is shutting down, lets the item wait again. Anything else fails the item, and only the item:
/// its dependents fail with it (<see cref="RunStore"/>), other runs are not touched, and the loop itself catches what is left.
/// </para>
/// <para>
/// After a start, items that are still marked as working were cut off. Each handler says what became of its own
/// (<see cref="IItemHandler.RecoverAsync"/>): it finishes the item from what it had kept, or returns null to begin again. Only then
/// does <see cref="Placement"/> remove temporary files, since recovery may still need them, and only then does new work begin.
/// </para>
/// </remarks>
public sealed class RunScheduler : BackgroundService
{
    private static readonly TimeSpan SignalEvery = TimeSpan.FromSeconds(1), PauseAfterTrouble = TimeSpan.FromSeconds(1);

    private readonly RunStore _runs;
    private readonly RunProgress _progress;
    private readonly Placement _placement;
    private readonly Signals _signals;
    private readonly WorkLoad _load;
    private readonly ILogger<RunScheduler> _logger;
    private readonly Dictionary<string, IItemHandler> _handlers;
    private readonly SemaphoreSlim _wake = new(0);
    private readonly ConcurrentDictionary<string, int> _busyLanes = new();
    private readonly ConcurrentDictionary<long, Task> _working = new();
    private readonly Lock _stopping = new();
    private readonly Dictionary<long, CancellationTokenSource> _stops = [];

    public RunScheduler(
        RunStore runs, RunProgress progress, Placement placement, Signals signals, WorkLoad load, IEnumerable<IItemHandler> handlers,
        ILogger<RunScheduler> logger)
    {
        (_runs, _progress, _placement, _signals, _load, _logger) = (runs, progress, placement, signals, load, logger);
        _handlers = handlers.ToDictionary(handler => handler.Kind);
        _runs.WorkAdded += Wake;
    }

    /// <summary>Raised with the ID of a run that has ended.</summary>
    public event Action<long>? Ended;

    /// <summary>Looks for work.</summary>
    private void Wake()
    {
        _wake.Release();
        _signals.Send(new Signal(Signal.Runs));
    }

    /// <summary>Stops a run: what is finished stays, what is under way starts over when the run continues.</summary>
    public void Stop(long runId) => Stop(runId, null);

    /// <summary>Pauses a run: items under way are finished, no further ones start.</summary>
    public void Pause(long runId)
    {
        if (_runs.Stop(runId, null))
            _signals.Send(new Signal(Signal.Runs));
    }

    /// <summary>Changes how many workers runs have; 0 for one at low priority.</summary>
    public void ChooseWorkers(int workers)
    {
        _load.Choose(workers);
        Wake();
    }

    /// <summary>Moves a run one place up or down in the queue.</summary>
    public void Move(long runId, bool isEarlier) => _runs.Move(runId, isEarlier);

    /// <summary>Continues a stopped run.</summary>
    public void Continue(long runId)
    {
        if (_runs.Continue(runId))
            Close(runId);
    }

    /// <summary>Ends a stopped run: waiting items are skipped.</summary>
    public void GiveUp(long runId)
    {
        if (_runs.GiveUp(runId))
            Close(runId);
    }

    /// <summary>Tries failed items of a run again.</summary>
    /// <param name="itemId">Null for all that have failed.</param>
    public void Retry(long runId, long? itemId = null) => _runs.Retry(runId, itemId, HasResult);

    /// <summary>
    /// Lets finished items whose results are lost, and their dependents, wait again; the run stops, since the person has to do
    /// something first.
    /// </summary>
    /// <param name="reason">Tells the person what.</param>
    public void Reopen(long runId, IReadOnlyList<long> itemIds, string reason) => _runs.Reopen(runId, itemIds, HasResult, reason);

    /// <summary>How an item is shown.</summary>
    public ItemDescription Describe(RunItemRow item) =>
        _handlers.TryGetValue(item.Kind, out var handler) ? handler.Describe(item) : new ItemDescription("Working", "Done");

    public override void Dispose()
    {
        _runs.WorkAdded -= Wake;
        base.Dispose();
        _wake.Dispose();
    }

    protected override async Task ExecuteAsync(CancellationToken stoppingToken)
    {
        await Task.Yield();
        await TryAsync("Recovering runs", () => RecoverAsync(stoppingToken)).ConfigureAwait(false);
        var signals = SignalAsync(stoppingToken);
        while (!stoppingToken.IsCancellationRequested)
        {
            if (!await TryAsync("Looking for work", () => StartAllAsync(stoppingToken)).ConfigureAwait(false))
                await Task.Delay(PauseAfterTrouble, stoppingToken).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
            else
                await Task.WhenAny(_wake.WaitAsync(stoppingToken)).ConfigureAwait(false);
        }

        await Task.WhenAll(_working.Values.Append(signals)).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
    }

    /// <summary>Keeps the loop alive whatever happens, cancellation included; false when something failed.</summary>
    private async Task<bool> TryAsync(string what, Func<Task> work)
    {
        try
        {
            return await Guard.TryAsync(_logger, what, work).ConfigureAwait(false);
        }
        catch (OperationCanceledException)
        {
            return false;
        }
    }

    private async Task RecoverAsync(CancellationToken cancellation)
    {
        foreach (var item in _runs.ItemsInState(ItemState.Working))
        {
            ItemOutcome? outcome;
            try
            {
                outcome = _handlers.TryGetValue(item.Kind, out var handler)
                    ? await handler.RecoverAsync(item, cancellation).ConfigureAwait(false)
                    : null;
            }
            catch (Exception failure) when (failure is not OperationCanceledException)
            {
                _logger.LogError(failure, "Run {RunId} item {ItemId}: could not be recovered", item.RunId, item.Id);
                outcome = ItemOutcome.Failed(ReasonOf(failure));
            }

            if (outcome is null)
            {
                _runs.SetWaiting(item, TimeSpan.Zero);
                _logger.LogInformation("Run {RunId} item {ItemId}: was under way when the server ended, starts over", item.RunId, item.Id);
            }
            else
            {
                _runs.SetEnded(item, outcome, TimeSpan.Zero, SizesOf(item, outcome));
            }
        }

        _placement.ClearUp();
        foreach (var run in _runs.InState(RunState.Running))
            Close(run.Id);
    }

    private Task StartAllAsync(CancellationToken cancellation)
    {
        while (!cancellation.IsCancellationRequested && _runs.TakeNext(FullLanes()) is { } item)
        {
            _busyLanes.AddOrUpdate(item.Lane, 1, (_, busy) => busy + 1);
            _progress.Begin(item);
            var work = Task.Run(() => CarryOutAsync(item, cancellation), CancellationToken.None);
            _working[item.Id] = work;
            work.ContinueWith(_ => _working.TryRemove(new KeyValuePair<long, Task>(item.Id, work)), TaskScheduler.Default);
        }

        return Task.CompletedTask;
    }

    private bool HasResult(RunItemRow item) => !_handlers.TryGetValue(item.Kind, out var handler) || handler.HasResult(item);

    private List<string> FullLanes() =>
        [.. _busyLanes.Where(lane => lane.Value >= (lane.Key == Lane.Worker ? _load.Workers : 1)).Select(lane => lane.Key)];

    private async Task CarryOutAsync(RunItemRow item, CancellationToken cancellation)
    {
        int released = 0;
        void ReleaseLane()
        {
            if (Interlocked.Exchange(ref released, 1) == 0)
                _busyLanes.AddOrUpdate(item.Lane, 0, (_, busy) => busy - 1);
            _wake.Release();
        }

        try
        {
            await EndAsync(item, ReleaseLane, cancellation).ConfigureAwait(false);
        }
        catch (Exception failure)
        {
            // Reached only if the outcome cannot be recorded: the next start finds the item as it was.
            _logger.LogError(failure, "Run {RunId} item {ItemId}: its end could not be recorded", item.RunId, item.Id);
        }
        finally
        {
            // Others may have waited for the lane, or for this item.
            ReleaseLane();
        }
    }

    private async Task EndAsync(RunItemRow item, Action releaseLane, CancellationToken cancellation)
    {
        var stop = StopTokenOf(item.RunId, cancellation);
        RunStoppedException? stopped = null;
        ItemOutcome? outcome = null;
        try
        {
            // The run was stopped after the item was taken and before it began.
            if (_runs.IsRunning(item.RunId) && _handlers.TryGetValue(item.Kind, out var handler))
                outcome = await handler.ExecuteAsync(item, new ItemContext(item.Id, _runs, _progress, releaseLane), stop)
                    .ConfigureAwait(false);
        }
        catch (OperationCanceledException) when (stop.IsCancellationRequested)
        {
            // It waits again.
        }
        catch (RunStoppedException reason)
        {
            stopped = reason;
        }
        catch (Exception failure)
        {
            bool isExpected = Guard.IsExpected(failure);
            _logger.Log(
                isExpected ? LogLevel.Warning : LogLevel.Error, isExpected ? null : failure, "Run {RunId} item {ItemId}: failed: {Reason}",
                item.RunId, item.Id, failure.Message);
            outcome = ItemOutcome.Failed(ReasonOf(failure));
        }

        var active = _progress.End(item);
        if (outcome is null)
            _runs.SetWaiting(item, active);
        else
            _runs.SetEnded(item, outcome, active, SizesOf(item, outcome));
        if (stopped is not null)
            Stop(item.RunId, stopped.Message, stopped.WaitsFor);
        Close(item.RunId);
        _signals.Send(new Signal(Signal.Runs));
    }

    private ItemSizes SizesOf(RunItemRow item, ItemOutcome outcome)
    {
        if (outcome.State != ItemState.Done)
            return default;
        var description = Describe(item with { State = outcome.State, Result = outcome.Result });
        return new ItemSizes(description.BytesBefore, description.BytesAfter);
    }

    private static string ReasonOf(Exception failure) =>
        Guard.IsExpected(failure) ? failure.Message : $"Unexpected error: {failure.Message} The log has the details.";

    private void Stop(long runId, string? reason, DestinationWait? waitsFor = null)
    {
        if (!_runs.Stop(runId, reason, waitsFor))
            return;
        lock (_stopping)
        {
            if (_stops.Remove(runId, out var stop))
                stop.Cancel();
        }

        if (reason is not null)
            _logger.LogWarning("Run {RunId}: stopped: {Reason}", runId, reason);
        _signals.Send(new Signal(Signal.Runs));
    }

    private CancellationToken StopTokenOf(long runId, CancellationToken cancellation)
    {
        lock (_stopping)
        {
            if (!_stops.TryGetValue(runId, out var stop))
                _stops[runId] = stop = CancellationTokenSource.CreateLinkedTokenSource(cancellation);
            return stop.Token;
        }
    }

    private void Close(long runId)
    {
        if (!_runs.CloseIfEnded(runId))
            return;
        lock (_stopping)
            _stops.Remove(runId);
        _logger.LogInformation("Run {RunId}: ended", runId);
        Ended?.Invoke(runId);
        _signals.Send(new Signal(Signal.Ended, runId));
    }

    /// <summary>Continues runs whose disk was full or missing, once there is space or the drive is back.</summary>
    private Task ContinueWhereTheWaitIsOverAsync()
    {
        foreach (var (runId, wait) in _runs.WaitingForDestination())
        {
            if (wait.IsOver)
                Continue(runId);
        }

        return Task.CompletedTask;
    }

    private async Task SignalAsync(CancellationToken cancellation)
    {
        using var timer = new PeriodicTimer(SignalEvery);
        while (await timer.WaitForNextTickAsync(cancellation).ConfigureAwait(false))
        {
            await TryAsync("Looking for room", ContinueWhereTheWaitIsOverAsync).ConfigureAwait(false);
            if (_progress.HasWork)
                _signals.Send(new Signal(Signal.Runs));
        }
    }
}
