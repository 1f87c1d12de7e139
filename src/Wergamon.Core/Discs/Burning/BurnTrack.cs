namespace Wergamon.Core.Discs.Burning;

/// <summary>What becomes a track of an audio disc.</summary>
/// <param name="Frames">Samples of one channel at 44.1 kHz.</param>
public sealed record BurnTrack(long Frames, string Title, string Artist)
{
    /// <summary>Tracks of an album are kept on one disc if possible; empty for a track without an album.</summary>
    public string Album { get; init; } = "";

    public string? Isrc { get; init; }

    /// <summary>
    /// Places inside the track that become index 2 and up: frames from its start, rising. Those outside of it are left out.
    /// </summary>
    public IReadOnlyList<long> Indexes { get; init; } = [];

    /// <summary>Sectors of silence before it; null for that of the whole disc. The first track has none.</summary>
    public int? PauseSectors { get; init; }
}
