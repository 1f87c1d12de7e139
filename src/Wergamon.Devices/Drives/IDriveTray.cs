using Wergamon.Core.Discs.Reading;

namespace Wergamon.Devices.Drives;

/// <summary>A drive as a person uses it: a tray to insert and eject discs.</summary>
public interface IDriveTray
{
    /// <summary>"A", "B".</summary>
    string Letter { get; }

    DriveTraits Traits { get; }

    /// <summary>The disc in it; null for an empty tray.</summary>
    LoadedDisc? Disc { get; }

    /// <summary>Speed of the last read, as a multiple of playing time.</summary>
    double SpeedNow { get; }

    /// <summary>Inserts a disc; the previous one comes out.</summary>
    void Insert(LoadedDisc disc);

    void Eject();

    /// <summary>The disc as readable audio.</summary>
    /// <exception cref="Core.Discs.UnreadableDiscException">The tray is empty.</exception>
    IAudioDrive Open();
}
