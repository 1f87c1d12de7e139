using System.Collections.Concurrent;
using Microsoft.Extensions.Logging;
using Wergamon.App.Storage;

namespace Wergamon.App.Workers;

/// <summary>Workers that wait for a job. A new worker compiles its code first, so one that has worked before is quicker.</summary>
public sealed class IdleWorkers : IDisposable
{
    private readonly ConcurrentStack<WorkerProcess> _usual = new(), _lowPriority = new();
    private volatile bool _isDisposed;

    /// <summary>The worker that was busy last, or a new one.</summary>
    /// <exception cref="WorkerNotStartedException">No worker could be started.</exception>
    internal WorkerProcess Take(AppOptions options, bool isLowPriority, ILogger logger)
    {
        ObjectDisposedException.ThrowIf(_isDisposed, this);
        var idle = isLowPriority ? _lowPriority : _usual;
        while (idle.TryPop(out var worker))
        {
            if (worker.IsAlive)
                return worker;
            worker.Dispose();
        }

        return new WorkerProcess(options, isLowPriority, logger);
    }

    /// <summary>Keeps a worker for the next job; ends it if there will be none.</summary>
    internal void Keep(WorkerProcess worker)
    {
        (worker.IsLowPriority ? _lowPriority : _usual).Push(worker);
        if (_isDisposed)
            Dispose();
    }

    public void Dispose()
    {
        _isDisposed = true;
        foreach (var idle in (ConcurrentStack<WorkerProcess>[])[_usual, _lowPriority])
        {
            while (idle.TryPop(out var worker))
                worker.Dispose();
        }
    }
}
