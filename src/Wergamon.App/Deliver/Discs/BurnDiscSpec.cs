using Wergamon.Core.Discs.Burning;

namespace Wergamon.App.Deliver.Discs;

/// <summary>A disc to be written, or its image.</summary>
/// <param name="Tracks">In order, with the lengths that were planned.</param>
public sealed record BurnDiscSpec(string Title, IReadOnlyList<BurnTrack> Tracks, AudioDiscSettings Settings)
{
    /// <summary>Which copy, from 1.</summary>
    public int Copy { get; init; } = 1;
}

/// <summary>What was written.</summary>
/// <param name="Sums">CRC-32 of each stretch of sound that a drive reads as a track, hidden sound before track 1 first.</param>
/// <param name="Waits">How often the burner had to wait.</param>
public sealed record BurnDiscResult(IReadOnlyList<uint> Sums, int LeadOut, int Waits)
{
    /// <summary>The key of the disc on the shelf; null for a trial or an image.</summary>
    public string? Key { get; init; }

    /// <summary>The sheet of an image.</summary>
    public string? Path { get; init; }

    public long Bytes { get; init; }
}

/// <param name="Tracks">Tracks that read back equal to the sample.</param>
public sealed record BurnCheckResult(int Tracks);
