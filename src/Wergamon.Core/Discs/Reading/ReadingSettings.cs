namespace Wergamon.Core.Discs.Reading;

/// <summary>How a disc is read.</summary>
public sealed record ReadingSettings
{
    /// <summary>True: every stretch is read until readings agree. False: read once, with the errors that the drive reports.</summary>
    public bool IsCareful { get; init; } = true;

    /// <summary>Each track is read a second time from its start, and the checksums of both readings are compared.</summary>
    public bool HasSecondReading { get; init; }

    /// <summary>Readings that have to agree where the first two did not; also more than twice as many as for any other value.</summary>
    public int Agreements { get; init; } = 3;

    /// <summary>Maximum readings of one place before it is marked as doubtful.</summary>
    public int MaxReadings { get; init; } = 32;
}
