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

/// <summary>Receives progress on the thread that reads.</summary>
public interface IReadingListener
{
    /// <summary>The track has been read up to this sector.</summary>
    /// <param name="isSecond">True for the second reading, which is compared with the first.</param>
    void Reached(int sector, bool isSecond);

    /// <summary>This sector is being re-read because readings differed.</summary>
    void ReadAgain(int sector);
}
