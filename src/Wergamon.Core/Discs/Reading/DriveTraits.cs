namespace Wergamon.Core.Discs.Reading;

/// <summary>The known properties of a drive. A frame is one sample of each channel: 4 bytes.</summary>
/// <param name="Name">As people tell drives apart.</param>
public sealed record DriveTraits(string Name)
{
    /// <summary>
    /// Read offset in frames: the drive delivers samples this much later on the disc than requested; negative for earlier.
    /// </summary>
    public int ReadOffset { get; init; }

    /// <summary>Maximum jitter in frames; 0 for a drive that always starts at the requested position.</summary>
    public int MaxJitter { get; init; }

    /// <summary>Cache size in sectors: the drive may answer from it instead of reading.</summary>
    public int CacheSectors { get; init; }
}
