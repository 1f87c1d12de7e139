using Wergamon.Core.Audio;

namespace Wergamon.Core.Tests.Audio;

public sealed class PcmFormatTests
{
    /// <summary>1,411.2 kbit/s: arithmetic from IEC 60908. 2,116.8 kbit/s: common practice, no source.</summary>
    [Theory]
    [InlineData(44_100, 16, 2, 1_411_200)]
    [InlineData(44_100, 24, 2, 2_116_800)]
    [InlineData(48_000, 24, 6, 6_912_000)]
    public void Bitrate_is_rate_times_bits_times_channels(int rate, int bits, int channels, long expected) =>
        Assert.Equal(expected, new PcmFormat(new SampleRate(rate), channels, bits).BitRate);

    [Theory]
    [InlineData(44_100, 16, 2, "16-bit 44.1 kHz stereo")]
    [InlineData(48_000, 24, 6, "24-bit 48 kHz 5.1")]
    [InlineData(22_050, 8, 1, "8-bit 22.05 kHz mono")]
    public void Formats_are_described_in_usual_terms(int rate, int bits, int channels, string expected) =>
        Assert.Equal(expected, new PcmFormat(new SampleRate(rate), channels, bits).ToString());

    /// <summary>Bits of dwChannelMask: Microsoft, Multiple Channel Audio Data and WAVE Files, table of speaker positions.</summary>
    [Fact]
    public void Channel_roles_are_in_mask_order() => Assert.Equal(
        [
            ChannelRoles.FrontLeft, ChannelRoles.FrontRight, ChannelRoles.FrontCentre, ChannelRoles.LowFrequency, ChannelRoles.BackLeft,
            ChannelRoles.BackRight
        ],
        ((ChannelRoles)0x3F).InOrder());
}
