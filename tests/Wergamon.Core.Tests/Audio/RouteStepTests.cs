using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Planning;
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
        using var folded = new GainReader(
            new DownmixReader(new TestSound(format, 1, (block, _) => new double[] { 0.1, 0.2, 0.3, 0.9, 0.4, 0.5 }.CopyTo(block.Doubles))),
            0.5);
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
        Assert.Equal(0, Mean(new RequantisingReader(Steady(), 16, Dither.None)));
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
        using var reader = new RequantisingReader(
            new TestSound(format, 3, (block, _) => new[] { 1.5, -1.5, 0.0 }.CopyTo(block.Doubles)), 16, Dither.None);
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

    /// <summary>
    /// The error of TPDF dither is white, a quarter of the square of a step strong and free of the signal (Lipshitz, Wannamaker and
    /// Vanderkooy 1992); shaped, its spectrum is that times the square of the filter of the feedback.
    /// </summary>
    [Theory]
    [InlineData(Dither.Triangular, 44_100)]
    [InlineData(Dither.Shaped, 44_100)]
    [InlineData(Dither.Shaped, 48_000)]
    [InlineData(Dither.Shaped, 96_000)]
    public void The_error_of_dither_has_the_spectrum_that_theory_says(Dither dither, int hertz)
    {
        const int Length = 1 << 19, Bands = 16, BandWidth = 512;
        var rate = new SampleRate(hertz);
        var tone = TestSound.Tone(hertz, 1, Length, 997, 0.25).AllDoubles();
        using var reader = new RequantisingReader(TestSound.Tone(hertz, 1, Length, 997, 0.25), 16, dither);
        var block = new SampleBuffer(reader.Format);
        var errors = new List<double>();
        while (reader.Read(block) > 0)
        {
            foreach (int sample in block.Integers)
                errors.Add(sample - tone[errors.Count] * 32_768);
        }

        Assert.Equal(0, errors.Average(), 0.01);
        Assert.Equal(0, errors.Select((error, at) => error * tone[at]).Average(), 0.005);
        double[] weights = dither == Dither.Shaped ? [.. NoiseShaping.Weights(rate)] : [];
        double[] found = new double[Bands], wanted = new double[Bands];
        for (int band = 0; band < Bands; band++)
        {
            double frequency = (band + 0.5) / (2 * Bands);
            found[band] = PowerAround(errors, frequency, BandWidth);
            double real = 1, imaginary = 0;
            for (int i = 0; i < weights.Length; i++)
            {
                real -= weights[i] * Math.Cos(2 * Math.PI * frequency * (i + 1));
                imaginary += weights[i] * Math.Sin(2 * Math.PI * frequency * (i + 1));
            }

            wanted[band] = 0.25 * (real * real + imaginary * imaginary);
        }

        Assert.All(found.Zip(wanted), pair => Assert.InRange(pair.First, pair.Second * 0.75, pair.Second * 1.3));
    }

    /// <summary>Mean power at a frequency, in cycles a sample: short transforms with a window that leaks little.</summary>
    private static double PowerAround(List<double> samples, double frequency, int width)
    {
        double sum = 0;
        int count = 0;
        for (int start = 0; start + width <= samples.Count; start += width, count++)
        {
            double real = 0, imaginary = 0;
            for (int i = 0; i < width; i++)
            {
                double value = samples[start + i] * (1 - Math.Cos(2 * Math.PI * i / width));
                real += value * Math.Cos(2 * Math.PI * frequency * i);
                imaginary += value * Math.Sin(2 * Math.PI * frequency * i);
            }

            sum += (real * real + imaginary * imaginary) / (1.5 * width);
        }

        return sum / count;
    }

    [Fact]
    public void Narrowing_keeps_the_values_and_refuses_what_uses_the_bits()
    {
        var format = new PcmFormat(SampleRate.AudioDisc, 2, 24);
        using var narrow = new NarrowingReader(new WideningReader(TestSound.Noise(format with { Bits = 16 }, 100), 24), 16);
        using var source = TestSound.Noise(format with { Bits = 16 }, 100);
        var (got, wanted) = (new SampleBuffer(narrow.Format), new SampleBuffer(source.Format));
        narrow.Read(got);
        source.Read(wanted);
        Assert.Equal(wanted.Integers.ToArray(), got.Integers.ToArray());
        using var full = new NarrowingReader(TestSound.Noise(format, 100), 16);
        Assert.Throws<UnreadableAudioException>(() => full.Read(got));
    }

    [Theory]
    [InlineData(ChannelChoice.Stereo, 1, "0 0")]
    [InlineData(ChannelChoice.Left, 2, "0")]
    [InlineData(ChannelChoice.Right, 2, "1")]
    [InlineData(ChannelChoice.Swapped, 2, "1 0")]
    [InlineData(ChannelChoice.Swapped, 6, "1 0 2 3 5 4")]
    public void Channels_are_rearranged_without_a_change(ChannelChoice choice, int channels, string map)
    {
        foreach (var format in (PcmFormat[])[
            new(SampleRate.AudioDisc, channels, 24), new(SampleRate.AudioDisc, channels, 32, SampleKind.Float),
            new(SampleRate.AudioDisc, channels, 64, SampleKind.Float)
        ])
        {
            int[] from = [.. map.Split(' ').Select(int.Parse)];
            using var reader = new ChannelMapReader(
                new TestSound(format, 7, (block, _) =>
                {
                    for (int i = 0; i < 7 * channels; i++)
                        Set(block, i, i);
                }),
                choice.MapOf(format)!, ChannelRolesFacts.Usual(from.Length));
            var block = new SampleBuffer(reader.Format);
            reader.Read(block);
            for (int i = 0; i < 7 * from.Length; i++)
                Assert.Equal(i / from.Length * channels + from[i % from.Length], Get(block, i));
        }

        static void Set(SampleBuffer block, int at, int value)
        {
            if (!block.Format.IsFloat)
                block.Integers[at] = value;
            else if (block.Format.Bits == 32)
                block.Floats[at] = value;
            else
                block.Doubles[at] = value;
        }

        static double Get(SampleBuffer block, int at) =>
            !block.Format.IsFloat ? block.Integers[at] : block.Format.Bits == 32 ? block.Floats[at] : block.Doubles[at];
    }

    /// <summary>
    /// ITU-R BS.775-3, annex 4, table 2, 1/0: 0.7071 of left and right, 1 of the centre, 0.5 of the surrounds, here 3 dB lower so that
    /// stereo cannot clip.
    /// </summary>
    [Fact]
    public void Mono_is_half_the_sum_of_the_stereo_downmix()
    {
        var format = new PcmFormat(new SampleRate(48_000), 6, 64, SampleKind.Float);
        using var mono = new DownmixReader(
            new TestSound(format, 1, (block, _) => new double[] { 0.1, 0.2, 0.3, 0.9, 0.4, 0.5 }.CopyTo(block.Doubles)), channels: 1);
        Assert.Equal(MinusThree * (MinusThree * (0.1 + 0.2) + 0.3 + 0.5 * (0.4 + 0.5)), Assert.Single(mono.AllDoubles()), 12);
    }
}
