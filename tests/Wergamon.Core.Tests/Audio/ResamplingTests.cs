using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Resampling;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Core.Tests.Audio;

/// <summary>Resampling, checked against known tones and against libsoxr 0.1.3 at very high quality.</summary>
public sealed class ResamplingTests
{
    private const double Amplitude = 0.5;

    /// <summary>Far below what 24 bits (-146 dB) or a 32-bit float can hold; anything lower is not compared.</summary>
    private const double Deep = -180;

    /// <summary>Rates of discs, of studios and of small players, up and down.</summary>
    public static TheoryData<int, int> Rates => new()
    {
        { 48_000, 44_100 }, { 88_200, 44_100 }, { 96_000, 44_100 }, { 176_400, 44_100 }, { 192_000, 48_000 },
        { 44_100, 48_000 }, { 44_100, 96_000 }, { 32_000, 44_100 }, { 22_050, 44_100 },
    };

    [Theory]
    [MemberData(nameof(Rates))]
    public void A_tone_stays_as_pure_and_as_loud_as_with_the_reference(int from, int to)
    {
        foreach (double share in new[] { 0.005, 0.05, 0.5, 0.9 })
        {
            double hertz = share * Math.Min(from, to) / 2;
            double reference = ErrorOf(LibSoxr.Resample(ToneOf(from, hertz), from, to), to, hertz);
            double ours = ErrorOf(Resample(from, to, hertz), to, hertz);
            Assert.True(ours <= Math.Max(reference, Deep), $"{hertz:0} Hz: {ours:0.0} dB, the reference {reference:0.0} dB");
        }
    }

    [Theory]
    [MemberData(nameof(Rates))]
    public void Aliases_are_as_low_as_with_the_reference(int from, int to)
    {
        foreach (double share in new[] { 1.001, 1.05, 1.5 })
        {
            double hertz = share * to / 2;
            if (hertz >= from / 2.0)
                continue;
            double reference = LevelOf(LibSoxr.Resample(ToneOf(from, hertz), from, to));
            double ours = LevelOf(Resample(from, to, hertz));
            Assert.True(ours <= Math.Max(reference, Deep), $"{hertz:0} Hz: {ours:0.0} dB, the reference {reference:0.0} dB");
        }
    }

    /// <summary>
    /// Rates that share next to no factor; 44,056 Hz is that of video with half the sound of its time (common practice, no source).
    /// </summary>
    [Theory]
    [InlineData(44_056, 44_100)]
    [InlineData(44_100, 47_999)]
    [InlineData(47_952, 48_000)]
    public void Odd_rates_are_as_clean_as_any_other(int from, int to)
    {
        foreach (double hertz in new[] { 997.0, 0.9 * Math.Min(from, to) / 2 })
            Assert.True(ErrorOf(Resample(from, to, hertz), to, hertz) < Deep);
    }

    [Theory]
    [InlineData(0)]
    [InlineData(1)]
    [InlineData(5000)]
    public void The_length_is_as_announced(int frames)
    {
        using var reader = new ResamplingReader(TestSound.Tone(48_000, 2, frames, 440), SampleRate.AudioDisc);
        Assert.Equal((frames * 147 + 159) / 160, reader.FrameCount);
        Assert.Equal(2 * reader.FrameCount, reader.AllDoubles().Length);
    }

    [Fact]
    public void Channels_do_not_leak()
    {
        var format = new PcmFormat(new SampleRate(48_000), 3, 64, SampleKind.Float);
        using var reader = new ResamplingReader(
            new TestSound(format, 20_000, (block, start) =>
            {
                for (int i = 0; i < block.FrameCount; i++)
                    block.Doubles[3 * i + 1] = Math.Sin(0.1 * (start + i));
            }),
            SampleRate.AudioDisc);
        var samples = reader.AllDoubles();
        Assert.All(
            Enumerable.Range(0, samples.Length / 3),
            frame => Assert.InRange(Math.Max(Math.Abs(samples[3 * frame]), Math.Abs(samples[3 * frame + 2])), 0, 1e-14));
        Assert.InRange(Enumerable.Range(2_000, 10_000).Max(frame => samples[3 * frame + 1]), 0.999, 1.001);
    }

    private static double[] ToneOf(int rate, double hertz) => TestSound.Tone(rate, 1, rate, hertz, Amplitude).AllDoubles();

    private static double[] Resample(int from, int to, double hertz)
    {
        using var reader = new ResamplingReader(TestSound.Tone(from, 1, from, hertz, Amplitude), new SampleRate(to));
        return reader.AllDoubles();
    }

    /// <summary>Error against the tone generated at the new rate, in dB below it, away from both ends.</summary>
    private static double ErrorOf(double[] samples, int rate, double hertz)
    {
        double worst = 0;
        for (int frame = rate / 10; frame < rate - rate / 10; frame++)
            worst = Math.Max(worst, Math.Abs(samples[frame] - Amplitude * Math.Sin(2 * Math.PI * hertz * frame / rate)));
        return 20 * Math.Log10(worst / Amplitude);
    }

    /// <summary>The peak away from both ends, in dB below the input tone.</summary>
    private static double LevelOf(double[] samples) =>
        20 * Math.Log10(samples[(samples.Length / 10)..^(samples.Length / 10)].Max(Math.Abs) / Amplitude);
}
