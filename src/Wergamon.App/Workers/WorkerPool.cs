using System.Collections.Concurrent;
using Microsoft.Extensions.Logging;
using Wergamon.App.Storage;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Workers;

/// <summary>Who waits for a job.</summary>
public enum WorkerPriority
{
    /// <summary>Playback, and pages that wait for the result: workers of their own, never queued behind other work.</summary>
    Interactive,

    /// <summary>Jobs of a scan: short ones with workers of their own, so that new music is added while runs are busy.</summary>
    Scan,

    /// <summary>Runs: as many jobs at a time as there are workers.</summary>
    Requested,

    /// <summary>Background work: started only while no run is active, in processes of low priority.</summary>
    Background,
}

/// <summary>The worker processes of the server: started when first needed, kept, replaced when lost.</summary>
public sealed class WorkerPool : IDisposable
{
    /// <summary>Jobs of scans at a time.</summary>
    public const int ScanPlaces = 2;

    private const int HeardNowPlaces = 3;

    private const int BlamedLosses = 3;

    private readonly AppOptions _options;
    private readonly IdleWorkers _idle;
    private readonly ILogger<WorkerPool> _logger;
    private readonly WorkLoad? _load;
    private readonly Dictionary<WorkerPriority, SemaphoreSlim> _places;
    private readonly ConcurrentDictionary<int, (WorkerProcess Worker, WorkerPriority Priority)> _busy = new();
    private readonly ConcurrentDictionary<string, int> _losses = new(StringComparer.Ordinal);
    private readonly Lock _counting = new();
    private TaskCompletionSource _rest = new(TaskCreationOptions.RunContinuationsAsynchronously);
    private int _askedFor;
    private volatile bool _isDisposed;

    /// <param name="load">Null where nobody chooses: jobs of runs then have the usual priority.</param>
    public WorkerPool(AppOptions options, IdleWorkers idle, ILogger<WorkerPool> logger, WorkLoad? load = null)
    {
        (_options, _idle, _logger, _load) = (options, idle, logger, load);
        BackgroundPlaces = Math.Max(1, options.WorkerCount / 2);
        _places = new()
        {
            [WorkerPriority.Interactive] = new SemaphoreSlim(HeardNowPlaces),
            [WorkerPriority.Scan] = new SemaphoreSlim(ScanPlaces),
            [WorkerPriority.Requested] = new SemaphoreSlim(options.WorkerCount),
            [WorkerPriority.Background] = new SemaphoreSlim(BackgroundPlaces),
        };
        _rest.SetResult();
    }

    /// <summary>Background jobs that may run at a time.</summary>
    public int BackgroundPlaces { get; }

    /// <summary>Processes busy with a job of this priority.</summary>
    public IReadOnlyCollection<int> BusyProcessIds(WorkerPriority priority) =>
        [.. _busy.Where(busy => busy.Value.Priority == priority).Select(busy => busy.Key)];

    /// <summary>Waits for a free worker, sends it the job and waits for the reply.</summary>
    /// <exception cref="WorkerLostException">The worker was lost; the next job gets a new one.</exception>
    /// <exception cref="OperationCanceledException">The job was cancelled.</exception>
    public async Task<WorkerReply> RunAsync(
        WorkerJob job, WorkerPriority priority, Action<WorkerProgress>? onProgress, CancellationToken cancellation)
    {
        using var turn = await WaitForTurnAsync(priority, cancellation).ConfigureAwait(false);
        bool isLow = priority == WorkerPriority.Background || priority == WorkerPriority.Requested && _load is { IsQuiet: true };
        ObjectDisposedException.ThrowIf(_isDisposed, this);
        var worker = _idle.Take(_options, isLow, _logger);
        _busy[worker.ProcessId] = (worker, priority);
        WorkerReply reply;
        try
        {
            reply = await worker.RunAsync(job, onProgress ?? (_ => { }), cancellation).ConfigureAwait(false);
        }
        finally
        {
            _busy.TryRemove(worker.ProcessId, out _);
            GiveBack(worker);
        }

        return reply is CancelledReply ? throw new OperationCanceledException(cancellation) : reply;
    }

    /// <summary>
    /// The same for background work. A worker can be lost for other reasons, so a file is blamed only for the third that it costs: the
    /// reply then says so. Before that the file is tried again, best after others.
    /// </summary>
    /// <param name="path">The file that the job is about.</param>
    /// <exception cref="WorkerLostException">The worker was lost, maybe through no fault of the file.</exception>
    /// <exception cref="WorkerNotStartedException">No worker could be started, which is not the file's fault.</exception>
    /// <exception cref="OperationCanceledException">The job was cancelled, or the server ends.</exception>
    public async Task<WorkerReply> RunUnwatchedAsync(WorkerJob job, string path, WorkerPriority priority, CancellationToken cancellation)
    {
        WorkerReply reply;
        try
        {
            reply = await RunAsync(job, priority, null, cancellation).ConfigureAwait(false);
        }
        catch (WorkerLostException lost) when (lost is not WorkerNotStartedException)
        {
            cancellation.ThrowIfCancellationRequested();
            if (_losses.AddOrUpdate(path, 1, (_, losses) => losses + 1) < BlamedLosses)
                throw;
            reply = new FailureReply(lost.Message);
        }

        // The count ends with a reply: later the path may be that of a different file.
        _losses.TryRemove(path, out _);
        return reply;
    }

    /// <summary>The same, repeated immediately until there is a reply: for short jobs.</summary>
    /// <exception cref="WorkerNotStartedException">No worker could be started, which is not the file's fault.</exception>
    /// <exception cref="OperationCanceledException">The job was cancelled, or the server ends.</exception>
    public async Task<WorkerReply> RunUntilRepliedAsync(WorkerJob job, string path, WorkerPriority priority, CancellationToken cancellation)
    {
        while (true)
        {
            try
            {
                return await RunUnwatchedAsync(job, path, priority, cancellation).ConfigureAwait(false);
            }
            catch (WorkerLostException lost) when (lost is not WorkerNotStartedException)
            {
                _logger.LogInformation("The job of a lost worker is repeated: {Reason}", lost.Message);
            }
        }
    }

    /// <summary>Keeps background jobs from starting until the result is disposed of.</summary>
    public IDisposable PauseBackground()
    {
        lock (_counting)
        {
            if (_askedFor++ == 0)
                _rest = new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously);
        }

        return new Release(() =>
        {
            lock (_counting)
            {
                if (--_askedFor == 0)
                    _rest.SetResult();
            }
        });
    }

    public void Dispose()
    {
        _isDisposed = true;
        foreach (var (worker, _) in _busy.Values)
            worker.Dispose();
    }

    private async Task<IDisposable> WaitForTurnAsync(WorkerPriority priority, CancellationToken cancellation)
    {
        var hold = priority == WorkerPriority.Requested ? PauseBackground() : null;
        var places = _places[priority];
        try
        {
            await places.WaitAsync(cancellation).ConfigureAwait(false);
        }
        catch
        {
            hold?.Dispose();
            throw;
        }

        try
        {
            if (priority == WorkerPriority.Background)
                await WhenAtRestAsync(cancellation).ConfigureAwait(false);
        }
        catch
        {
            places.Release();
            throw;
        }

        return new Release(() =>
        {
            places.Release();
            hold?.Dispose();
        });
    }

    private Task WhenAtRestAsync(CancellationToken cancellation)
    {
        lock (_counting)
            return _rest.Task.WaitAsync(cancellation);
    }

    private void GiveBack(WorkerProcess worker)
    {
        if (worker.IsAlive && !_isDisposed)
        {
            _idle.Keep(worker);
            return;
        }

        if (!_isDisposed)
            _logger.LogWarning("Worker {ProcessId} was lost and will be replaced", worker.ProcessId);
        worker.Dispose();
    }

    private sealed class Release(Action action) : IDisposable
    {
        private int _done;

        public void Dispose()
        {
            if (Interlocked.Exchange(ref _done, 1) == 0)
                action();
        }
    }
}
