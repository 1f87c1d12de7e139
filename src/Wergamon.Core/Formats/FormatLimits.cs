using Wergamon.Core.Audio;

namespace Wergamon.Core.Formats;

/// <summary>What the files of a format can hold.</summary>
public sealed record FormatLimits
{
    public int MaxChannels { get; init; } = int.MaxValue;

    /// <summary>
    /// Layouts of more than two channels that it has a place for, with surrounds at the back; empty where every layout is possible.
    /// </summary>
    public IReadOnlyList<ChannelRoles> Layouts { get; init; } = [];

    /// <summary>In hertz and rising order; empty where every rate is possible.</summary>
    public IReadOnlyList<int> Rates { get; init; } = [];

    /// <summary>Bits of integer samples, in rising order; empty where every depth is possible.</summary>
    public IReadOnlyList<int> Bits { get; init; } = [];

    public bool HoldsFloat { get; init; }

    /// <summary>Whether there is a place for every channel.</summary>
    public bool HoldsChannels(PcmFormat format) =>
        format.Channels <= MaxChannels
            && (format.Channels <= 2 || Layouts.Count == 0 || Layouts.Contains(format.Roles.WithSurroundsAtBack()));

    public int MaxBits => Bits is [.., var most] ? most : int.MaxValue;
}
