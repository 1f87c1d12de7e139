namespace Wergamon.Core.Discs.Burning;

/// <summary>What becomes a track of an audio disc.</summary>
/// <param name="Frames">Samples of one channel at 44.1 kHz.</param>
public sealed record BurnTrack(long Frames, string Title, string Artist)
{
    /// <summary>Tracks of an album stay on one disc where that is possible; empty for a track of none.</summary>
    public string Album { get; init; } = "";

    public string? Isrc { get; init; }

    /// <summary>
    /// Places inside the track that become index 2 and up: frames from its start, rising. Those outside of it are left out.
    /// </summary>
    public IReadOnlyList<long> Indexes { get; init; } = [];

    /// <summary>Sectors of silence before it; null for that of the whole disc. The first track has none.</summary>
    public int? PauseSectors { get; init; }
}

/// <summary>How tracks follow each other on a disc.</summary>
/// <param name="PauseSectors">Sectors of silence before each track but the first; 0 for none.</param>
public sealed record BurnOptions(int PauseSectors)
{
    /// <summary>
    /// Without pauses: samples that do not fill a sector are completed by the next track, so that nothing is lost or doubled.
    /// </summary>
    public static BurnOptions Gapless { get; } = new(0);

    /// <summary>Two seconds. <em>Common practice, no source.</em></summary>
    public static BurnOptions WithPauses { get; } = new(2 * AudioDisc.SectorsPerSecond);

    /// <summary>True to put the first track before track 1, where a player comes by going back from its start.</summary>
    public bool IsFirstHidden { get; init; }
}
