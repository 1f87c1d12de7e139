using CsCheck;
using Wergamon.Core.Analysis;
using Wergamon.Core.Audio;
using Wergamon.Testing.Outside;

namespace Wergamon.Core.Tests.Analysis;

public sealed class LoudnessTests
{
    private static readonly PcmFormat Stereo48 = Floats(48_000, 2);

    /// <summary>
    /// EBU Tech 3341, table 1, cases 1 to 6: levels in dBFS by the second, and the loudness wanted (numbers from memory).
    /// </summary>
    public static TheoryData<string, double> IntegratedCases => new()
    {
        { "20 -23", -23 },
        { "20 -33", -33 },
        { "10 -36,60 -23,10 -36", -23 },
        { "10 -72,10 -36,60 -23,10 -36,10 -72", -23 },
        { "20 -26,20.1 -20,20 -26", -23 },
    };

    [Theory, MemberData(nameof(IntegratedCases))]
    public void Integrated_loudness_of_the_signals_of_ebu_tech_3341(string parts, double wanted) =>
        Assert.Equal(wanted, Measure(Tones(parts), Stereo48).Integrated!.Value, 0.1);

    [Fact]
    public void Case_6_of_ebu_tech_3341_weighs_the_surrounds()
    {
        var format = Floats(48_000, 5);
        double[] levels = [-28, -28, -24, -30, -30];
        var samples = new float[20 * 48_000 * 5];
        for (int i = 0; i < samples.Length; i++)
            samples[i] = (float)(Linear(levels[i % 5]) * Math.Sin(2 * Math.PI * 1000 * (i / 5) / 48_000));
        Assert.Equal(-23, Measure(samples, format).Integrated!.Value, 0.1);
    }

    /// <summary>EBU Tech 3342, table 1, cases 1 to 4 (numbers from memory).</summary>
    [Theory]
    [InlineData("20 -20,20 -30", 10)]
    [InlineData("20 -20,20 -15", 5)]
    [InlineData("20 -40,20 -20", 20)]
    [InlineData("20 -50,20 -35,20 -20,20 -35,20 -50", 15)]
    public void Loudness_range_of_the_signals_of_ebu_tech_3342(string parts, double wanted) =>
        Assert.Equal(wanted, Measure(Tones(parts), Stereo48).Range!.Value, 1.0);

    /// <summary>
    /// EBU Tech 3341, table 1, cases 15 to 19: tones that are sampled beside their peaks, +0.2 and -0.4 dB (numbers from memory).
    /// </summary>
    [Theory]
    [InlineData(4, 0, 0.5, -6.0)]
    [InlineData(4, 45, 0.5, -6.0)]
    [InlineData(6, 60, 0.5, -6.0)]
    [InlineData(8, 67.5, 0.5, -6.0)]
    [InlineData(4, 45, 1.41, 3.0)]
    public void True_peak_of_the_signals_of_ebu_tech_3341(int samplesPerPeriod, double degrees, double amplitude, double wanted)
    {
        var samples = new float[2 * 48_000];
        for (int i = 0; i < samples.Length; i++)
            samples[i] = (float)(amplitude * Math.Sin(2 * Math.PI * (i / 2) / samplesPerPeriod + degrees * Math.PI / 180));
        // They swell in and out, since a tone that is cut off is higher there.
        for (int i = 0; i < 2_000; i++)
        {
            samples[i] *= i / 2_000f;
            samples[^(i + 1)] *= i / 2_000f;
        }

        Assert.InRange(Measure(samples, Stereo48).TruePeakDecibels, wanted - 0.4, wanted + 0.2);
    }

    /// <summary>
    /// Most of a signal is too low to hold the true peak and is not interpolated. Closed form: a tone's true peak is its amplitude, and
    /// its samples may lie far below it; +0.2 and -0.4 dB as in EBU Tech 3341.
    /// </summary>
    [Fact]
    public void A_louder_start_does_not_hide_a_higher_peak_between_samples() =>
        Gen.Select(
            Gen.OneOfConst(3, 4, 6), Gen.Double[0, 2 * Math.PI], Gen.Double[0.7, 0.94],
            Gen.Int[1, 4000]).Sample((samplesPerPeriod, phase, level, at) =>
        {
            const int Tone = 1_500;
            const double Amplitude = 0.9;
            var samples = new float[2 * (8_000 + Tone)];
            for (int i = 0; i < samples.Length; i++)
            {
                int frame = i / 2, inTone = frame - 4_000 - at;
                double swell = Math.Pow(Math.Sin(Math.PI * Math.Clamp((double)inTone / Tone, 0, 1)), 2);
                // Slow, so that the start has no peaks between its samples; it ends after a whole period.
                samples[i] = (float)(
                    frame < 4_000
                        ? level * Amplitude * Math.Sin(Math.PI * frame / 100)
                        : Amplitude * Math.Min(1, 4 * swell) * Math.Sin(2 * Math.PI * inTone / samplesPerPeriod + phase));
            }

            Assert.InRange(Measure(samples, Stereo48).TruePeakDecibels, 20 * Math.Log10(Amplitude) - 0.4, 20 * Math.Log10(Amplitude) + 0.2);
        });

    [Theory]
    [InlineData(44_100, 2)]
    [InlineData(48_000, 1)]
    [InlineData(96_000, 2)]
    [InlineData(192_000, 2)]
    [InlineData(22_050, 2)]
    [InlineData(48_000, 6)]
    [InlineData(44_100, 5)]
    public void Any_signal_measures_as_in_libebur128(int rate, int channels)
    {
        var format = Floats(rate, channels);
        var samples = Swelling(rate, channels, 15);
        var outside = LibEbur128.Measure(samples, format);
        var ours = Measure(samples, format);
        Assert.Equal(outside.Integrated, ours.Integrated!.Value, 0.1);
        Assert.Equal(outside.Range, ours.Range!.Value, 0.1);
        Assert.Equal(20 * Math.Log10(outside.TruePeak), ours.TruePeakDecibels, 0.2);
    }

    /// <summary>ITU-R BS.1770-4, annex 1, tables 1 and 2 (numbers from memory).</summary>
    [Fact]
    public void Filters_at_48_kHz_are_those_of_the_standard()
    {
        var shelf = KWeighting.Shelf(new SampleRate(48_000));
        var pass = KWeighting.HighPass(new SampleRate(48_000));
        double[] wanted = [
            1.53512485958697, -2.69169618940638, 1.19839281085285, -1.69065929318241, 0.73248077421585, -1.99004745483398, 0.99007225036621
        ];
        Assert.All(
            wanted.Zip([shelf.B0, shelf.B1, shelf.B2, shelf.A1, shelf.A2, pass.A1, pass.A2]),
            pair => Assert.Equal(pair.First, pair.Second, 1e-8));
    }

    [Fact]
    public void Tracks_add_up_to_their_album()
    {
        float[] one = Swelling(44_100, 2, 12), two = Tones("20 -31", 44_100);
        var format = Floats(44_100, 2);
        double together = Measure([.. one, .. two], format).Integrated!.Value;
        var album = Loudness.OfAll([Measure(one, format), Measure(two, format)]);
        Assert.Equal(together, album.Integrated!.Value, 0.1);
        Assert.Equal(Math.Max(Measure(one, format).TruePeak, Measure(two, format).TruePeak), album.TruePeak);
    }

    [Fact]
    public void Silence_has_no_loudness_and_blocks_of_any_size_give_the_same()
    {
        var silence = Measure(new float[2 * 48_000], Stereo48);
        Assert.Equal((null, null, 0d), (silence.Integrated, silence.Range, silence.TruePeak));

        var samples = Swelling(48_000, 2, 5);
        var meter = new LoudnessMeter(Stereo48);
        for (int at = 0, size = 2; at < samples.Length; at += size, size = size * 3 % 1_999 * 2)
            meter.Append(samples.AsSpan(at, Math.Min(size, samples.Length - at)));
        var (whole, parts) = (Measure(samples, Stereo48), meter.Finish());
        Assert.Equal(whole.Integrated!.Value, parts.Integrated!.Value, 1e-9);
        Assert.Equal(
            (whole.TruePeak, whole.Blocks), (parts.TruePeak, parts.Blocks),
            (one, other) => one.TruePeak == other.TruePeak && one.Blocks.SequenceEqual(other.Blocks));
    }

    private static PcmFormat Floats(int rate, int channels) => new(new SampleRate(rate), channels, 32, SampleKind.Float);

    private static double Linear(double decibels) => Math.Pow(10, decibels / 20);

    private static Loudness Measure(float[] samples, PcmFormat format)
    {
        var meter = new LoudnessMeter(format);
        meter.Append(samples);
        return meter.Finish();
    }

    /// <summary>1 kHz on both sides: "10 -36,60 -23" for seconds and dBFS.</summary>
    private static float[] Tones(string parts, int rate = 48_000)
    {
        var samples = new List<float>();
        foreach (var part in parts.Split(','))
        {
            double[] numbers = [
                .. part.Split(' ').Select(number => double.Parse(number, System.Globalization.CultureInfo.InvariantCulture))
            ];
            for (int frame = 0; frame < (int)(numbers[0] * rate); frame++)
            {
                float sample = (float)(Linear(numbers[1]) * Math.Sin(2 * Math.PI * 1000 * (samples.Count / 2) / rate));
                samples.Add(sample);
                samples.Add(sample);
            }
        }

        return [.. samples];
    }

    /// <summary>Noise and tones of other frequencies in each channel, that swell.</summary>
    private static float[] Swelling(int rate, int channels, int seconds)
    {
        var random = new Random(rate + channels);
        var samples = new float[rate * seconds * channels];
        for (int i = 0; i < samples.Length; i++)
        {
            double t = (double)(i / channels) / rate;
            double tone = Math.Sin(2 * Math.PI * 220 * (1 + i % channels) * t) + 0.5 * Math.Sin(2 * Math.PI * 3_100 * t);
            samples[i] = (float)((0.4 * tone + 0.2 * (random.NextDouble() - 0.5)) * (0.02 + Math.Pow(Math.Sin(t / 3), 2)));
        }

        return samples;
    }
}
