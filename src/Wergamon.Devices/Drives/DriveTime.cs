namespace Wergamon.Devices.Drives;

/// <summary>Time that a drive takes.</summary>
public interface IDriveTime
{
    /// <summary>Lets drive time pass.</summary>
    void Spend(TimeSpan time);
}

/// <summary>Time that is only added up, for tests and measurements.</summary>
public sealed class VirtualTime : IDriveTime
{
    public TimeSpan Spent { get; private set; }

    public void Spend(TimeSpan time) => Spent += time;
}

/// <summary>Real time, sped up for trying things out.</summary>
/// <param name="quickness">1 is as slow as a real drive.</param>
public sealed class PacedTime(TimeProvider clock, double quickness) : IDriveTime
{
    private static readonly TimeSpan ShortestPause = TimeSpan.FromMilliseconds(15);

    private TimeSpan _owed;

    public void Spend(TimeSpan time)
    {
        _owed += time / quickness;
        if (_owed < ShortestPause)
            return;
        long before = clock.GetTimestamp();
        Thread.Sleep(_owed);
        _owed -= clock.GetElapsedTime(before);
    }
}
