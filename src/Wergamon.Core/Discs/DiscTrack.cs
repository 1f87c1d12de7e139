using System.Text.Json.Serialization;

namespace Wergamon.Core.Discs;

/// <summary>One track in the table of contents. Positions are sectors; sector 0 is at 00:02:00 on the disc.</summary>
/// <param name="Number">1 to 99.</param>
/// <param name="Start">Index 1, where a player starts the track.</param>
public sealed record DiscTrack(int Number, bool IsAudio, int Start)
{
    /// <summary>Index 0, the start of the pause before this track; equal to <see cref="Start"/> without a pause.</summary>
    public int PauseStart { get; init; } = Start;

    /// <summary>Index 2 and up, in order.</summary>
    public IReadOnlyList<int> MoreIndexes { get; init; } = [];

    /// <summary>1, or more for what was added to the disc in a later session.</summary>
    public int Session { get; init; } = 1;

    public bool HasPreEmphasis { get; init; }

    public bool IsCopyPermitted { get; init; }

    public string? Isrc { get; init; }

    [JsonIgnore]
    public int PauseSectors => Start - PauseStart;
}
