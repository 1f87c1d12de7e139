namespace Wergamon.Core.Discs.Reading;

/// <summary>A drive with an audio disc in it.</summary>
public interface IAudioDrive
{
    DriveTraits Traits { get; }

    TableOfContents Contents { get; }

    /// <summary>Reads raw sectors of sound.</summary>
    /// <param name="firstSector">At least 0; the last one read is before the end of the sound.</param>
    /// <param name="into">Whole sectors of 2,352 bytes.</param>
    /// <param name="reportedErrors">Receives the sectors that the drive reports as damaged.</param>
    /// <exception cref="UnreadableDiscException">The disc is gone, or the drive does not answer.</exception>
    void Read(int firstSector, Span<byte> into, ISet<int> reportedErrors);
}
