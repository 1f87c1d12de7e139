namespace Wergamon.Devices.Drives;

/// <summary>The time that a drive takes.</summary>
public interface IDriveTime
{
    /// <summary>Lets so much time of the drive pass.</summary>
    void Spend(TimeSpan time);
}

/// <summary>Time that only adds up, for tests and measurements.</summary>
public sealed class VirtualTime : IDriveTime
{
    public TimeSpan Spent { get; private set; }

    public void Spend(TimeSpan time) => Spent += time;
}

/// <summary>Real time, quickened so that trying things out does not take an evening.</summary>
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
