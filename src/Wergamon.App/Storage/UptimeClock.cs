namespace Wergamon.App.Storage;

/// <summary>
/// Counts the time between regular calls. Setting the clock, or suspending the machine, adds nothing, and for an
/// hour after such a jump nothing may be decided by age.
/// </summary>
/// <param name="lookEvery">How often <see cref="Look"/> is called.</param>
internal sealed class UptimeClock(TimeProvider time, TimeSpan lookEvery)
{
    private static readonly TimeSpan Settling = TimeSpan.FromHours(1), Tolerance = TimeSpan.FromMinutes(5);

    private DateTimeOffset _clock = time.GetUtcNow();
    private long _monotonic = time.GetTimestamp();
    private TimeSpan _steadyFor;

    /// <summary>True once an hour has passed since the start or the last jump.</summary>
    public bool IsSteady => _steadyFor >= Settling;

    /// <summary>The time that has passed since the last call.</summary>
    public TimeSpan Look()
    {
        var passed = time.GetElapsedTime(_monotonic);
        var byClock = time.GetUtcNow() - _clock;
        (_clock, _monotonic) = (time.GetUtcNow(), time.GetTimestamp());
        if ((byClock - passed).Duration() > Tolerance || passed > lookEvery + Settling)
        {
            _steadyFor = TimeSpan.Zero;
            return TimeSpan.Zero;
        }

        _steadyFor += passed;
        return passed;
    }
}
