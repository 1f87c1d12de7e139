using Wergamon.Core.Discs;

namespace Wergamon.Devices.Drives;

public enum FaultKind
{
    /// <summary>Reads wrong in a share of the attempts, differently each time.</summary>
    Flaky,

    /// <summary>Reads wrong in the first attempts, then right.</summary>
    Settling,

    /// <summary>Reads wrong every time, differently each time.</summary>
    Never,
}

/// <summary>A scratch: a stretch of a disc that does not always read right.</summary>
/// <param name="FirstFrame">The first frame of the disc that it touches; 588 frames make a sector.</param>
/// <param name="Frames">How many frames it touches.</param>
public sealed record DiscFault(FaultKind Kind, long FirstFrame, int Frames)
{
    /// <summary>For flaky stretches: the share of attempts that fail, 0 to 1.</summary>
    public double Share { get; init; } = 0.4;

    /// <summary>For settling stretches: number of attempts that fail at first.</summary>
    public int Tries { get; init; } = 5;

    /// <summary>The share of failed attempts that the drive itself reports, 0 to 1.</summary>
    public double Noticed { get; init; } = 0.7;

    public int FirstSector => (int)(FirstFrame / AudioDisc.FramesPerSector);

    public int LastSector => (int)((FirstFrame + Frames - 1) / AudioDisc.FramesPerSector);
}
