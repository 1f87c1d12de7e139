namespace Wergamon.App.Runs;

/// <summary>Runs work that waits for a drive or a disk for minutes on its own thread instead of one of the pool.</summary>
public static class DedicatedThread
{
    public static Task<T> RunAsync<T>(Func<T> work) =>
        Task.Factory.StartNew(work, CancellationToken.None, TaskCreationOptions.LongRunning, TaskScheduler.Default);
}
