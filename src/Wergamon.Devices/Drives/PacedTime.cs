namespace Wergamon.Devices.Drives;

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
