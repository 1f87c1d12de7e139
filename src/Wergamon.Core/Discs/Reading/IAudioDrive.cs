namespace Wergamon.Core.Discs.Reading;

/// <summary>What is known of a drive before it reads. A frame is one sample of each channel: 4 bytes.</summary>
/// <param name="Name">As people tell drives apart.</param>
public sealed record DriveTraits(string Name)
{
    /// <summary>What the drive delivers starts so many frames later on the disc than what it was asked for; negative for earlier.</summary>
    public int ReadOffset { get; init; }

    /// <summary>A read may start up to so many frames early or late; 0 for a drive that always starts where it was asked to.</summary>
    public int MaxJitter { get; init; }

    /// <summary>The drive may answer from memory what it has read within the last so many sectors.</summary>
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
    /// <param name="reportedErrors">Takes the sectors of which the drive itself says that it could not read them whole.</param>
    /// <exception cref="UnreadableDiscException">The disc is gone, or the drive does not answer.</exception>
    void Read(int firstSector, Span<byte> into, ISet<int> reportedErrors);
}
