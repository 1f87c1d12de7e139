namespace Wergamon.Core.Discs.Reading;

/// <summary>How a disc is read.</summary>
public sealed record ReadingSettings
{
    /// <summary>True: every stretch is read until readings agree. False: once, and what the drive reports is told.</summary>
    public bool IsCareful { get; init; } = true;

    /// <summary>Each track is read a second time from its start, and the sums of both readings are compared.</summary>
    public bool HasSecondReading { get; init; }

    /// <summary>Readings that have to agree where the first two did not, and more than twice as many as on any other value.</summary>
    public int Agreements { get; init; } = 3;

    /// <summary>Readings of one place before it is given up and marked as doubtful.</summary>
    public int MaxReadings { get; init; } = 32;
}

/// <summary>Is told how the reading goes, on the thread that reads.</summary>
public interface IReadingListener
{
    /// <summary>The moving edge: the track has been read up to this sector.</summary>
    /// <param name="isSecond">True when this was the reading that the first one is compared with.</param>
    void Reached(int sector, bool isSecond);

    /// <summary>This sector is being read again because readings differed.</summary>
    void ReadAgain(int sector);
}
