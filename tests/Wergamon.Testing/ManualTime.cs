namespace Wergamon.Testing;

/// <summary>A clock that advances only on request, and can be set wrong.</summary>
public sealed class ManualTime : TimeProvider
{
    private readonly Lock _setting = new();
    private DateTimeOffset _clock = new(2024, 6, 24, 12, 0, 0, TimeSpan.Zero);
    private long _ticks;

    public override long TimestampFrequency => TimeSpan.TicksPerSecond;

    public override DateTimeOffset GetUtcNow()
    {
        lock (_setting)
            return _clock;
    }

    public override long GetTimestamp()
    {
        lock (_setting)
            return _ticks;
    }

    /// <summary>Time goes by.</summary>
    public void Advance(TimeSpan time)
    {
        lock (_setting)
            (_clock, _ticks) = (_clock + time, _ticks + time.Ticks);
    }

    /// <summary>Somebody sets the clock; no time goes by.</summary>
    public void SetClockAhead(TimeSpan by)
    {
        lock (_setting)
            _clock += by;
    }
}
