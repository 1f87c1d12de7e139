namespace Wergamon.App.Runs;

/// <summary>Keeps an estimate of remaining time from jumping: from one second to the next it changes by a quarter at most.</summary>
public sealed class SmoothedEstimate(TimeProvider time)
{
    private const double LargestChange = 0.25;

    private readonly Lock _lock = new();
    private TimeSpan? _shown;
    private long _shownAt;

    /// <param name="estimate">What the latest figures give.</param>
    public TimeSpan Next(TimeSpan estimate)
    {
        lock (_lock)
        {
            long now = time.GetTimestamp();
            if (_shown is { } shown)
            {
                double factor = Math.Pow(1 + LargestChange, time.GetElapsedTime(_shownAt, now).TotalSeconds);
                estimate = Clamp(estimate, shown / factor, shown * factor);
            }

            (_shown, _shownAt) = (estimate, now);
            return estimate;
        }
    }

    private static TimeSpan Clamp(TimeSpan value, TimeSpan least, TimeSpan most) => value < least ? least : value > most ? most : value;
}
