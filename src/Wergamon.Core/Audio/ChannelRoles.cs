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
