using System.Collections.Concurrent;
using Microsoft.Extensions.Logging;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Runs;

/// <summary>As many workers as cores, started when first needed and replaced when lost.</summary>
public sealed class WorkerPool(AppOptions options, ILogger<WorkerPool> logger) : IDisposable
{
    private readonly SemaphoreSlim _places = new(options.WorkerCount);
    private readonly ConcurrentStack<WorkerProcess> _idle = new();
    private readonly ConcurrentDictionary<int, WorkerProcess> _busy = new();
    private volatile bool _isDisposed;

    /// <summary>The processes that have a job now.</summary>
    public IReadOnlyCollection<int> BusyProcessIds => [.. _busy.Keys];

    /// <summary>Waits for a free worker, gives it the job and waits for the answer.</summary>
    /// <exception cref="WorkerLostException">The worker was lost; the next job gets a new one.</exception>
    public async Task<WorkerReply> RunAsync(WorkerRequest request, Action<WorkerProgress> onProgress, CancellationToken cancellation)
    {
        await _places.WaitAsync(cancellation).ConfigureAwait(false);
        try
        {
            var worker = Take();
            _busy[worker.ProcessId] = worker;
            try
            {
                var reply = await worker.RunAsync(request, onProgress, cancellation).ConfigureAwait(false);
                _busy.TryRemove(worker.ProcessId, out _);
                if (_isDisposed)
                    worker.Dispose();
                else
                    _idle.Push(worker);
                return reply;
            }
            catch
            {
                _busy.TryRemove(worker.ProcessId, out _);
                logger.LogWarning("Worker {ProcessId} was lost and will be replaced", worker.ProcessId);
                worker.Dispose();
                throw;
            }
        }
        finally
        {
            _places.Release();
        }
    }

    public void Dispose()
    {
        _isDisposed = true;
        while (_idle.TryPop(out var worker))
            worker.Dispose();
        foreach (var worker in _busy.Values)
            worker.Dispose();
    }

    private WorkerProcess Take()
    {
        while (_idle.TryPop(out var worker))
        {
            if (worker.IsAlive)
                return worker;
            worker.Dispose();
        }

        return new WorkerProcess(options, logger);
    }
}
