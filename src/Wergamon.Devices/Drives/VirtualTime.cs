namespace Wergamon.Devices.Drives;

/// <summary>Time that is only added up, for tests and measurements.</summary>
public sealed class VirtualTime : IDriveTime
{
    public TimeSpan Spent { get; private set; }

    public void Spend(TimeSpan time) => Spent += time;
}
