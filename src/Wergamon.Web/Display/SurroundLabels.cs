using Wergamon.Core.Audio;

namespace Wergamon.Web.Display;

/// <summary>Speaker names as people say them.</summary>
internal static class SurroundLabels
{
    public static IReadOnlyList<ChannelRoles> Roles { get; } =
    [
        ChannelRoles.FrontLeft, ChannelRoles.FrontRight, ChannelRoles.FrontCentre, ChannelRoles.LowFrequency, ChannelRoles.SideLeft,
        ChannelRoles.SideRight,
        ChannelRoles.BackLeft, ChannelRoles.BackRight, ChannelRoles.BackCentre,
    ];

    public static string Of(ChannelRoles role) => role switch
    {
        ChannelRoles.FrontLeft => "left",
        ChannelRoles.FrontRight => "right",
        ChannelRoles.FrontCentre => "centre",
        ChannelRoles.LowFrequency => "low frequency",
        ChannelRoles.SideLeft => "side left",
        ChannelRoles.SideRight => "side right",
        ChannelRoles.BackLeft => "back left",
        ChannelRoles.BackRight => "back right",
        _ => "back",
    };
}
