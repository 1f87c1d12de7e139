using System.Text.Json.Serialization;

namespace Wergamon.Core.Discs.Reading;

public enum Verdict
{
    /// <summary>The first two readings agreed everywhere.</summary>
    AgreedAtOnce,

    /// <summary>Some places were read again until enough readings agreed.</summary>
    AgreedAfterReReads,

    /// <summary>Some places never agreed; they are marked.</summary>
    Doubtful,

    /// <summary>Read once, or the second reading may have come from the drive's cache: nothing is proved.</summary>
    ReadOnce,
}

/// <summary>A stretch of a track, counted in frames from its start.</summary>
public readonly record struct FrameStretch(long First, long Count)
{
    [JsonIgnore]
    public TimeSpan Start => TimeSpan.FromSeconds((double)First / (AudioDisc.SectorsPerSecond * AudioDisc.FramesPerSector));

    [JsonIgnore]
    public TimeSpan End => TimeSpan.FromSeconds((double)(First + Count) / (AudioDisc.SectorsPerSecond * AudioDisc.FramesPerSector));
}

/// <param name="Stretch">Where readings differed.</param>
/// <param name="Times">Readings beyond the first two.</param>
public readonly record struct ReRead(FrameStretch Stretch, int Times);

/// <summary>Result of reading a track, and the evidence for it.</summary>
/// <param name="Number">0 for the hidden track before track 1.</param>
/// <param name="Crc32">CRC-32 (ISO 3309, ITU-T V.42) over all bytes of the track as they are on the disc.</param>
public sealed record TrackReading(int Number, TrackSpan Span, uint Crc32, Verdict Verdict)
{
    public IReadOnlyList<ReRead> ReReads { get; init; } = [];

    public IReadOnlyList<FrameStretch> Doubtful { get; init; } = [];

    /// <summary>Where the drive reported errors; of use only when nothing else tells.</summary>
    public IReadOnlyList<FrameStretch> Reported { get; init; } = [];

    /// <summary>Frames at an end of the disc that the drive cannot reach with its offset: filled with silence.</summary>
    public int FilledFrames { get; init; }

    /// <summary>Checksum of a second reading of the whole track; null without one.</summary>
    public uint? SecondCrc32 { get; init; }

    /// <summary>Sectors that the drive delivered for this track.</summary>
    public long SectorsRead { get; init; }

    [JsonIgnore]
    public bool IsProved => Verdict is Verdict.AgreedAtOnce or Verdict.AgreedAfterReReads && (SecondCrc32 is null || SecondCrc32 == Crc32);
}
