using Wergamon.Core.Discs.Reading;

namespace Wergamon.Devices.Drives;

/// <summary>A tray with a simulated drive.</summary>
public sealed class SimulatedTray(string letter, DriveBehaviour behaviour, IDriveTime time) : IDriveTray, IDisposable
{
    private SimulatedDrive? _drive;

    public string Letter => letter;

    public DriveTraits Traits => behaviour.Traits;

    public LoadedDisc? Disc { get; private set; }

    public double SpeedNow => _drive?.SpeedNow ?? behaviour.Speed;

    /// <summary>The two drives that ship with the application.</summary>
    public static IReadOnlyList<DriveBehaviour> Usual { get; } =
    [
        new(new DriveTraits("Drive A") { ReadOffset = 48, MaxJitter = 9, CacheSectors = 300 }, Speed: 24, JitterShare: 0.25, Seed: 41),
        new(new DriveTraits("Drive B") { ReadOffset = -114, MaxJitter = 0, CacheSectors = 800 }, Speed: 16, JitterShare: 0, Seed: 77),
    ];

    public void Insert(LoadedDisc disc)
    {
        Eject();
        Disc = disc;
        _drive = new SimulatedDrive(behaviour, disc, time);
    }

    public void Eject()
    {
        _drive?.TakeAway();
        _drive = null;
        Disc?.Dispose();
        Disc = null;
    }

    public IAudioDrive Open() => _drive ?? throw new Core.Discs.UnreadableDiscException($"There is no disc in {behaviour.Traits.Name}.");

    public void Dispose() => Eject();
}
