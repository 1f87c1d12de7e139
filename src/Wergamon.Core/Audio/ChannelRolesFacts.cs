using System.Numerics;

namespace Wergamon.Core.Audio;

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
