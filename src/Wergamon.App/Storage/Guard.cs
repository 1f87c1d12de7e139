using Microsoft.Extensions.Logging;

namespace Wergamon.App.Storage;

/// <summary>Runs steps whose failure is logged and must not stop the caller.</summary>
internal static class Guard
{
    private static readonly TimeSpan FirstPause = TimeSpan.FromSeconds(1), LongestPause = TimeSpan.FromMinutes(5);

    /// <param name="what">Names the step in the log.</param>
    /// <returns>False when the step failed.</returns>
    public static bool Try(ILogger logger, string what, Action step)
    {
        try
        {
            step();
            return true;
        }
        catch (Exception failure)
        {
            Log(logger, what, failure);
            return false;
        }
    }

    /// <summary>The same for asynchronous steps. Cancellation and a missing worker are not the step's fault and reach the caller.</summary>
    public static async Task<bool> TryAsync(ILogger logger, string what, Func<Task> step)
    {
        try
        {
            await step().ConfigureAwait(false);
            return true;
        }
        catch (Exception failure) when (failure is not (OperationCanceledException or IOutage))
        {
            Log(logger, what, failure);
            return false;
        }
    }

    /// <summary>
    /// Keeps a background service running: a failure is logged, and the service restarts after an increasing pause. It must not rely on
    /// having been started once.
    /// </summary>
    public static async Task KeepRunningAsync(
        ILogger logger, TimeProvider time, string service, Func<CancellationToken, Task> run, CancellationToken stopping)
    {
        // The host waits for everything before the first await, and a failure there would end it.
        await Task.Yield();
        for (var pause = FirstPause; !stopping.IsCancellationRequested; pause = pause * 2 < LongestPause ? pause * 2 : LongestPause)
        {
            try
            {
                await run(stopping).ConfigureAwait(false);
                return;
            }
            catch (Exception failure)
            {
                if (stopping.IsCancellationRequested)
                    return;
                logger.LogError(failure, "{Service} failed and starts again in {Seconds} s", service, pause.TotalSeconds);
            }

            await Task.Delay(pause, time, stopping).ConfigureAwait(ConfigureAwaitOptions.SuppressThrowing);
        }
    }

    /// <summary>True for failures of files, and for our own exceptions, whose messages are for the person.</summary>
    public static bool IsExpected(Exception failure) =>
        failure is IOException or UnauthorizedAccessException
            || failure.GetType().Namespace?.StartsWith("Wergamon", StringComparison.Ordinal) == true;

    private static void Log(ILogger logger, string what, Exception failure)
    {
        // An expected failure of a file or disk takes one line in the log; an unexpected one is logged with its trace.
        if (IsExpected(failure))
            logger.LogWarning("{What} failed: {Reason}", what, failure.Message);
        else
            logger.LogError(failure, "{What} failed", what);
    }
}
