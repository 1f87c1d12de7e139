namespace Wergamon.Core.Discs.Reading;

/// <summary>What is known of a drive before it reads. A frame is one sample of each channel: 4 bytes.</summary>
/// <param name="Name">As people tell drives apart.</param>
public sealed record DriveTraits(string Name)
{
    /// <summary>
    /// Read offset in frames: the drive delivers samples this much later on the disc than requested; negative for earlier.
    /// </summary>
    public int ReadOffset { get; init; }

    /// <summary>Maximum jitter in frames; 0 for a drive that always starts where it was asked to.</summary>
    public int MaxJitter { get; init; }

    /// <summary>Cache size in sectors: the drive may answer from it instead of reading.</summary>
    public int CacheSectors { get; init; }
}

/// <summary>A drive with an audio disc in it.</summary>
public interface IAudioDrive
{
    DriveTraits Traits { get; }

    TableOfContents Contents { get; }

    /// <summary>Reads raw sectors of sound.</summary>
    /// <param name="firstSector">At least 0; the last one read lies before the end of the sound.</param>
    /// <param name="into">Whole sectors of 2,352 bytes.</param>
    /// <param name="reportedErrors">Receives the sectors that the drive reports as damaged.</param>
    /// <exception cref="UnreadableDiscException">The disc is gone, or the drive does not answer.</exception>
    void Read(int firstSector, Span<byte> into, ISet<int> reportedErrors);
}
