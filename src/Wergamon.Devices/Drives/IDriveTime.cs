namespace Wergamon.Devices.Drives;

/// <summary>Time that a drive takes.</summary>
public interface IDriveTime
{
    /// <summary>Lets drive time pass.</summary>
    void Spend(TimeSpan time);
}
