namespace Wergamon.App.Runs;

/// <summary>Runs what waits for minutes, for a drive or a disk, on a thread of its own instead of one of the pool.</summary>
public static class DedicatedThread
{
    public static Task<T> RunAsync<T>(Func<T> work) =>
        Task.Factory.StartNew(work, CancellationToken.None, TaskCreationOptions.LongRunning, TaskScheduler.Default);
}
