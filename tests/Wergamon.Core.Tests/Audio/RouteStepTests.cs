using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Testing;

namespace Wergamon.Core.Tests.Audio;

/// <summary>The steps of a route that compute.</summary>
public sealed class RouteStepTests
{
    private static readonly double MinusThree = Math.Sqrt(0.5);

    /// <summary>ITU-R BS.775-3, annex 4, table 2: 3/2 and 3/1 sound to 2/0.</summary>
    [Theory]
    [InlineData(ChannelRoles.FrontLeft, 1, 0)]
    [InlineData(ChannelRoles.FrontRight, 0, 1)]
    [InlineData(ChannelRoles.FrontCentre, 0.7071, 0.7071)]
    [InlineData(ChannelRoles.SideLeft, 0.7071, 0)]
    [InlineData(ChannelRoles.BackRight, 0, 0.7071)]
    [InlineData(ChannelRoles.BackCentre, 0.5, 0.5)]
    [InlineData(ChannelRoles.LowFrequency, 0, 0)]
    public void Downmix_has_the_published_coefficients(ChannelRoles role, double left, double right)
    {
        var gain = DownmixReader.GainOf(role, DownmixLevels.Standard);
        Assert.Equal(left, gain.Left, 4);
        Assert.Equal(right, gain.Right, 4);
    }

    [Fact]
    public void Downmix_adds_the_channels_by_role()
    {
        var format = new PcmFormat(new SampleRate(48_000), 6, 64, SampleKind.Float);
        using var folded = new DownmixReader(new TestSound(format, 1, (block, _) => new double[] { 0.1, 0.2, 0.3, 0.9, 0.4, 0.5 }.CopyTo(block.Doubles)), 0.5);
        var sides = folded.AllDoubles();
        Assert.Equal(0.5 * (0.1 + MinusThree * (0.3 + 0.4)), sides[0], 12);
        Assert.Equal(0.5 * (0.2 + MinusThree * (0.3 + 0.5)), sides[1], 12);
    }

    [Fact]
    public void Dither_keeps_levels_below_the_last_bit()
    {
        // A DC level of a third of a step vanishes with rounding and survives on average with dither.
        const double Level = 1.0 / 3 / 32768;
        var format = new PcmFormat(SampleRate.AudioDisc, 1, 64, SampleKind.Float);
        TestSound Steady() => new(format, 200_000, (block, _) => block.Doubles.Fill(Level));
        Assert.Equal(0, Mean(new RequantisingReader(Steady(), 16, dither: false)));
        Assert.Equal(1.0 / 3, Mean(new RequantisingReader(Steady(), 16)), 0.01);

        static double Mean(IPcmReader reader)
        {
            var block = new SampleBuffer(reader.Format);
            double sum = 0;
            long count = 0;
            while (reader.Read(block) > 0)
            {
                foreach (int sample in block.Integers)
                    sum += sample;
                count += block.FrameCount;
            }

            return sum / count;
        }
    }

    [Fact]
    public void Samples_beyond_full_scale_are_clipped_and_counted()
    {
        var format = new PcmFormat(SampleRate.AudioDisc, 1, 64, SampleKind.Float);
        using var reader = new RequantisingReader(new TestSound(format, 3, (block, _) => new[] { 1.5, -1.5, 0.0 }.CopyTo(block.Doubles)), 16, dither: false);
        var block = new SampleBuffer(reader.Format);
        reader.Read(block);
        Assert.Equal([32767, -32768, 0], block.Integers.ToArray());
        Assert.Equal(2, reader.ClippedSamples);
    }

    [Fact]
    public void Widening_keeps_the_values()
    {
        using var reader = new WideningReader(TestSound.Noise(new PcmFormat(SampleRate.AudioDisc, 1, 8), 100), 16);
        using var source = TestSound.Noise(new PcmFormat(SampleRate.AudioDisc, 1, 8), 100);
        var wide = new SampleBuffer(reader.Format);
        var narrow = new SampleBuffer(source.Format);
        reader.Read(wide);
        source.Read(narrow);
        Assert.Equal(narrow.Integers.ToArray().Select(sample => sample * 256), wide.Integers.ToArray());
    }
}
