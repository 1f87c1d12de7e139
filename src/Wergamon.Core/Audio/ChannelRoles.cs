using System.Numerics;

namespace Wergamon.Core.Audio;

/// <summary>
/// Which loudspeaker each channel is meant for, as a bit mask; channels are stored in ascending bit order.
/// The bits are those of dwChannelMask in the WAVEFORMATEXTENSIBLE header.
/// </summary>
[Flags]
public enum ChannelRoles : uint
{
    None = 0,
    FrontLeft = 0x1,
    FrontRight = 0x2,
    FrontCentre = 0x4,
    LowFrequency = 0x8,
    BackLeft = 0x10,
    BackRight = 0x20,
    BackCentre = 0x100,
    SideLeft = 0x200,
    SideRight = 0x400,

    Mono = FrontCentre,
    Stereo = FrontLeft | FrontRight,
    Surround51 = Stereo | FrontCentre | LowFrequency | SideLeft | SideRight,
    Surround51Back = Stereo | FrontCentre | LowFrequency | BackLeft | BackRight,
}

public static class ChannelRolesFacts
{
    /// <summary>The usual roles for a bare channel count, as FLAC assigns them (RFC 9639, section 9.1.3).</summary>
    public static ChannelRoles Usual(int channels) => channels switch
    {
        1 => ChannelRoles.Mono,
        2 => ChannelRoles.Stereo,
        3 => ChannelRoles.Stereo | ChannelRoles.FrontCentre,
        4 => ChannelRoles.Stereo | ChannelRoles.BackLeft | ChannelRoles.BackRight,
        5 => ChannelRoles.Stereo | ChannelRoles.FrontCentre | ChannelRoles.BackLeft | ChannelRoles.BackRight,
        6 => ChannelRoles.Surround51Back,
        7 => ChannelRoles.Stereo | ChannelRoles.FrontCentre | ChannelRoles.LowFrequency | ChannelRoles.BackCentre
            | ChannelRoles.SideLeft | ChannelRoles.SideRight,
        8 => ChannelRoles.Surround51Back | ChannelRoles.SideLeft | ChannelRoles.SideRight,
        _ => ChannelRoles.None,
    };

    /// <summary>The role of each channel in stored order; empty when the roles are unknown.</summary>
    public static IReadOnlyList<ChannelRoles> InOrder(this ChannelRoles roles)
    {
        var order = new List<ChannelRoles>();
        for (uint rest = (uint)roles; rest != 0; rest &= rest - 1)
            order.Add((ChannelRoles)(1u << BitOperations.TrailingZeroCount(rest)));
        return order;
    }

    public static int Count(this ChannelRoles roles) => BitOperations.PopCount((uint)roles);
}
