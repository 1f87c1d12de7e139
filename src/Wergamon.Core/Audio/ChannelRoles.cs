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
    Surround30 = Stereo | FrontCentre,
    Surround40 = Surround30 | BackCentre,
    Quad = Stereo | BackLeft | BackRight,
    Surround50Back = Surround30 | BackLeft | BackRight,
    Surround61 = Surround30 | LowFrequency | BackCentre | SideLeft | SideRight,
    Surround61Back = Surround51Back | BackCentre,
    Surround71 = Surround51Back | SideLeft | SideRight,
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
        3 => ChannelRoles.Surround30,
        4 => ChannelRoles.Quad,
        5 => ChannelRoles.Surround50Back,
        6 => ChannelRoles.Surround51Back,
        7 => ChannelRoles.Surround61,
        8 => ChannelRoles.Surround71,
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

    /// <summary>
    /// Speakers at the sides are those at the back where a layout has only one pair behind the listener: encoders and files call
    /// them the one or the other (common practice, no source). The order of the channels is the same.
    /// </summary>
    public static ChannelRoles WithSurroundsAtBack(this ChannelRoles roles)
    {
        const ChannelRoles Sides = ChannelRoles.SideLeft | ChannelRoles.SideRight, Back = ChannelRoles.BackLeft | ChannelRoles.BackRight;
        return (roles & Sides) == Sides && (roles & (Back | ChannelRoles.BackCentre)) == 0 ? roles & ~Sides | Back : roles;
    }

    public static int Count(this ChannelRoles roles) => BitOperations.PopCount((uint)roles);
}
