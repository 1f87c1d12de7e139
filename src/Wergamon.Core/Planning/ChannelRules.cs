using Wergamon.Core.Audio;

namespace Wergamon.Core.Planning;

/// <summary>Words and rules of <see cref="ChannelChoice"/>.</summary>
public static class ChannelRules
{
    private static readonly (ChannelRoles Left, ChannelRoles Right)[] Pairs =
    [
        (ChannelRoles.FrontLeft, ChannelRoles.FrontRight), (ChannelRoles.BackLeft, ChannelRoles.BackRight),
        (ChannelRoles.SideLeft, ChannelRoles.SideRight),
    ];

    public static string InWords(this ChannelChoice choice) => choice switch
    {
        ChannelChoice.AtMostStereo => "stereo at most",
        ChannelChoice.Stereo => "stereo exactly",
        ChannelChoice.Mono => "mono exactly",
        ChannelChoice.Left => "left channel only",
        ChannelChoice.Right => "right channel only",
        ChannelChoice.Swapped => "left and right swapped",
        _ => "as the source",
    };

    /// <summary>True when a source with more than two channels is downmixed first.</summary>
    public static bool Downmixes(this ChannelChoice choice) => choice is not (ChannelChoice.AsSource or ChannelChoice.Swapped);

    /// <summary>For each channel of the copy the one of the source; null where they stay as they are.</summary>
    public static IReadOnlyList<int>? MapOf(this ChannelChoice choice, PcmFormat format) => (choice, format.Channels) switch
    {
        (ChannelChoice.Stereo, 1) => [0, 0],
        (ChannelChoice.Left, 2) => [0],
        (ChannelChoice.Right, 2) => [1],
        (ChannelChoice.Swapped, > 1) => Swap(format),
        _ => null,
    };

    private static int[]? Swap(PcmFormat format)
    {
        var order = format.Roles.InOrder().ToList();
        return order.Count != format.Channels
            ? null
            : [.. order.Select((role, channel) => order.IndexOf(Opposite(role)) is >= 0 and var other ? other : channel)];
    }

    private static ChannelRoles Opposite(ChannelRoles role)
    {
        foreach (var (left, right) in Pairs)
        {
            if (role == left)
                return right;
            if (role == right)
                return left;
        }

        return role;
    }
}
