using Wergamon.Core.Analysis;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Resampling;
using Wergamon.Testing.Outside;

namespace Wergamon.Core.Tests.Analysis.Comparing;

/// <summary>Null tests: the arithmetic against a reference in double precision, and the verdicts in words.</summary>
public sealed class NullTestTests
{
    private const int Rate = 44_100, Frames = 12 * Rate;

    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 2, 24);

    [Fact]
    public void Residue_is_that_of_a_reference_in_double_precision()
    {
        const int Later = 588;
        var first = new SeekableSound(Format, Frames, Original);
        var second = new SeekableSound(
            Format, Frames,
            (frame, channel) => frame < Later ? 0 : 0.5 * Original(frame - Later, channel) + 0.004 * Sweeps.Noise(frame * 2L + channel));
        var result = Run(first, second);
        var (one, other) = (Samples(first, 0, Frames - Later), Samples(second, Later, Frames - Later));
        double gain = one.Zip(other, (a, b) => a * b).Sum() / other.Sum(b => b * b);
        var residue = one.Zip(other, (a, b) => a - gain * b).ToArray();
        int peak = Array.IndexOf(residue, residue.MaxBy(Math.Abs));
        Assert.Equal(Later, result.Place!.Offset);
        Assert.Equal(20 * Math.Log10(gain), result.GainDecibels, 0.0001);
        Assert.Equal(10 * Math.Log10(residue.Average(sample => sample * sample)), result.ResidueDecibels, 0.001);
        Assert.Equal(20 * Math.Log10(Math.Abs(residue[peak])), result.ResiduePeak!.Decibels, 0.001);
        Assert.Equal((double)(peak / 2) / Rate, result.ResiduePeak.Seconds, 0.00001);
        Assert.Equal(10 * Math.Log10(one.Average(sample => sample * sample)), result.MusicDecibels, 0.001);
        Assert.Equal(one.Zip(other).Count(pair => pair.First == pair.Second), result.EqualSamples);
        Assert.Equal(
            (0L, (long)Later, (long)Later, 0L),
            (result.FirstBeyond.Before, result.FirstBeyond.After, result.SecondBeyond.Before, result.SecondBeyond.After));
    }

    /// <summary>A sine has an RMS of 3.01 dB below its peak; loudness and true peak by libebur128.</summary>
    [Fact]
    public void Figures_are_those_of_closed_forms_and_of_the_reference()
    {
        var sine = new SeekableSound(
            Format, Frames,
            (frame, _) => 0.5 * Math.Sin(2 * Math.PI * 997 * frame / Rate) * (frame is >= 5 * Rate and < 6 * Rate ? 0.1 : 1));
        var result = Run(sine, sine);
        Assert.Equal(-9.03, result.First.Loudest!.Decibels, 0.01);
        Assert.Equal((-29.03, 5), (Math.Round(result.First.Quietest!.Decibels, 2), result.First.Quietest.Seconds));
        Assert.Equal(-6.02, result.First.TruePeak, 0.02);
        var samples = Samples(sine, 0, Frames).Select(sample => (float)sample).ToArray();
        var reference = LibEbur128.Measure(samples, Format with { Bits = 32, Kind = SampleKind.Float });
        Assert.Equal(reference.Integrated, result.First.Loudness!.Value, 0.1);
        Assert.Equal(0, result.First.ClippedSamples);
        Assert.Equal(24, result.First.RealBits);
        var clipped = new SeekableSound(Format, Frames, (frame, _) => 1.5 * Math.Sin(2 * Math.PI * 997 * frame / Rate));
        Assert.Equal(
            Samples(clipped, 0, Frames).Count(sample => sample is >= 1 - 1.0 / (1 << 23) or <= -1),
            Run(sine, clipped).Second.ClippedSamples);
    }

    /// <summary>Both are measured side by side where both are; each has to come out as it does alone.</summary>
    [Theory]
    [InlineData(1, 0)]
    [InlineData(2, 0)]
    [InlineData(2, 2_345)]
    public void Two_sounds_measure_together_as_each_does_alone(int channels, int later)
    {
        var format = Format with { Channels = channels, Roles = ChannelRolesFacts.Usual(channels) };
        var first = new SeekableSound(format, Frames, Original);
        var second = new SeekableSound(format, Frames, (frame, channel) => frame < later ? 0 : 0.7 * Original(frame - later, channel));
        var result = Run(first, second);
        Assert.Equal(later, result.Place!.Offset);
        foreach (var (sound, figures) in new[] { (first, result.First), (second, result.Second) })
        {
            var meter = new LoudnessMeter(format);
            meter.Append(Samples(sound, 0, Frames).Select(sample => (float)sample).ToArray());
            var alone = meter.Finish();
            Assert.Equal(alone.Integrated!.Value, figures.Loudness!.Value, 1e-6);
            Assert.Equal(alone.TruePeakDecibels, figures.TruePeak, 1e-5);
        }
    }

    [Fact]
    public void Verdicts_say_what_was_done()
    {
        var first = new SeekableSound(Format, Frames, Original);
        Assert.Equal("Identical bit for bit", Verdict(first, first));
        Assert.Equal(
            "Every sample is equal, but B starts 588 samples (13.3 ms) later", Verdict(first, Changed(588, Original, Frames + 588)));
        Assert.Equal(
            "Every sample is equal, but B starts 588 samples (13.3 ms) later, and B ends 588 samples (13.3 ms) earlier, and there is "
                + "audio in the part that only one of them has",
            Verdict(first, Changed(588, Original)));
        Assert.Equal(
            "The same sound, but B is 6.0 dB quieter, and B has the opposite polarity",
            Verdict(first, Changed(0, (frame, channel) => -0.5 * Original(frame, channel))));
        Assert.Equal(
            "The same sound, but B is 6.0 dB quieter",
            Verdict(new SeekableSound(Format, Frames, Late), Changed(0, (frame, channel) => 0.5 * Late(frame, channel))));
        Assert.Equal(
            "The same audio except from 0:04 to 0:06",
            Verdict(
                first,
                Changed(0, (frame, channel) => frame is >= 4 * Rate and < 6 * Rate ? Sweeps.Noise(frame) : Original(frame, channel))));
        Assert.Equal(
            "The same recording with a loss: the residue is 30 dB below the music, in nearly the whole track, most of it above 4.4 kHz",
            Verdict(
                first,
                Changed(0, (frame, channel) => Original(frame, channel) * (1 + 0.0316 * Math.Sign(Sweeps.Noise(frame * 2L + channel))))));
        Assert.StartsWith(
            "Not the same recording", Verdict(first, Changed(0, (frame, channel) => Sweeps.Noise(frame * 2L + channel))),
            StringComparison.Ordinal);
        Assert.StartsWith("One of them is silent", Verdict(first, Changed(0, (_, _) => 0)), StringComparison.Ordinal);

        static double Late(int frame, int channel) => frame < 0.7 * Frames ? 0 : Original(frame, channel);
    }

    [Fact]
    public void Fewer_bits_are_distinguished_from_a_loss()
    {
        var first = new SeekableSound(Format, Frames, Original);
        var rounded = new SeekableSound(Format with { Bits = 16 }, Frames, Original);
        var dithered = new SeekableSound(
            Format with { Bits = 16 }, Frames,
            (frame, channel) => Original(frame, channel)
                + (Sweeps.Noise(frame * 2L + channel) + Sweeps.Noise(-frame * 2L - channel)) / 2 / 32_768);
        Assert.Equal(
            "Equal but for the last bits: B differs by at most 1 step of 16 bits, as rounding and dither leave it",
            Verdict(first, rounded));
        Assert.Equal(
            "Equal but for the last bits: B differs by at most 2 steps of 16 bits, as rounding and dither leave it",
            Verdict(first, dithered));
        var padded = new SeekableSound(Format, Frames, (frame, channel) => Math.Round(Original(frame, channel) * 32_768) / 32_768);
        Assert.Equal("Identical: every sample is equal; the 24-bit one uses 16 bits, the others are padding", Verdict(padded, rounded));
    }

    [Fact]
    public void Another_speed_is_undone_before_both_are_subtracted()
    {
        var first = new SeekableSound(Format, Frames, (frame, channel) => Sweeps.At((double)frame / Rate, channel));
        var second = new SeekableSound(Format, Frames, (frame, channel) => Sweeps.At(frame * 1.002 / Rate, channel));
        var result = Run(first, second);
        Assert.True(result.BelowMusic > 60, $"{result.BelowMusic}");
        Assert.Contains("B runs 0.2 % faster", NullVerdict.InWords(result, "B"), StringComparison.Ordinal);
    }

    [Fact]
    public void A_spectrum_has_the_level_of_a_tone_and_the_power_of_the_sound()
    {
        var tone = new SeekableSound(
            Format, Frames, (frame, channel) => (channel + 1) * 0.25 * Math.Sin(2 * Math.PI * 1000 * frame / Rate));
        using var sound = new AlignedSound(tone, new SeekableSound(Format, Frames, (frame, channel) => Original(frame, channel)), 0, 1);
        var spectrum = PairSpectrum.Of(sound, 0, Frames, int.MaxValue);
        // Mean power of -12.04 and -6.02 dB.
        double mean = 10 * Math.Log10((0.25 * 0.25 + 0.5 * 0.5) / 2);
        Assert.Equal(mean, spectrum.Levels(ComparedSignal.First, [900, 1100]).Single(), 0.7);
        Assert.True(spectrum.Levels(ComparedSignal.First, [5000, 10_000]).Single() < -115);
        // Parseval's theorem: the power of all bins is the mean square of the samples.
        Assert.Equal((0.25 * 0.25 + 0.5 * 0.5) / 4, spectrum.MeanSquare(ComparedSignal.First), 0.001);
        Assert.Equal(
            Samples(sound, signal => signal.Residue).Average(sample => sample * sample), spectrum.MeanSquare(ComparedSignal.Residue),
            0.001);
        Assert.Equal(
            (1000.0, 1000.0),
            (Round(spectrum.WhereMostLies(ComparedSignal.First, 0.8).FromHertz),
                Round(spectrum.WhereMostLies(ComparedSignal.First, 0.8).ToHertz)));

        static double Round(double hertz) => Math.Round(hertz / 50) * 50;
    }

    /// <summary>One width for each level of the file.</summary>
    [Theory]
    [InlineData(0, 256)]
    [InlineData(256 * 100, 2560)]
    [InlineData(0, 4096)]
    [InlineData(-65_536, 65_536)]
    public void Waveforms_show_every_sample_at_any_width(int from, int each)
    {
        const int Columns = 8;
        var first = new SeekableSound(Format, Frames, Original);
        var second = Changed(0, (frame, channel) => Original(frame, channel) + (frame == 4 * Rate ? 0.001 : 0));
        using var file = new MemoryStream();
        NullTest.Run(Input(first), Input(second), Alignment.Find(first, second), false, file, _ => { });
        var waves = PairWaveform.Read(file, from, from + Columns * each, Columns);
        var samples = Samples(first, 0, Frames);
        for (int column = 0; column < Columns; column++)
        {
            int start = from + column * each;
            var here = start < 0 ? [0] : samples[(start * 2)..((start + each) * 2)];
            Assert.Equal(here.Min(), waves[2 * column], 0.0005);
            Assert.Equal(here.Max(), waves[2 * column + 1], 0.0005);
        }

        // The single sample that differs is there, far below what a byte could hold.
        var residue = PairWaveform.Read(file, 4 * Rate - 1000, 4 * Rate + 1000, 1);
        Assert.Equal(0.001, -residue[4], 0.00001);
    }

    private static double Original(int frame, int channel) =>
        (0.6 + 0.3 * Math.Sin(frame / 30_000.0)) * Sweeps.Noise(2L * frame + channel + 1_000_000_007);

    private static SeekableSound Changed(int later, Func<int, int, double> sample, int frames = Frames) =>
        new(Format, frames, (frame, channel) => frame < later ? 0 : sample(frame - later, channel));

    private static string Verdict(SeekableSound first, SeekableSound second) => NullVerdict.InWords(Run(first, second), "B");

    private static NullTestInput Input(SeekableSound sound) => new(sound, sound.Format, sound.FrameCount);

    private static NullTestResult Run(SeekableSound first, SeekableSound second)
    {
        var place = Alignment.Find(first, second);
        ISeekablePcm moved = place is { IsWhole: false } ? Moved(second, place) : second;
        return NullTest.Run(
            Input(first), new NullTestInput(moved, second.Format, second.FrameCount), place, true, new MemoryStream(), _ => { });
    }

    private static SeekableSound Moved(SeekableSound sound, AlignedPair place)
    {
        using var reader = new InterpolatingReader(sound, place.StartOfSecond, place.Speed);
        var samples = new List<float>();
        var block = new SampleBuffer(reader.Format);
        while (reader.Read(block) > 0)
            samples.AddRange(block.Floats.ToArray());
        return new SeekableSound(reader.Format, samples.Count / 2, (frame, channel) => samples[2 * frame + channel]);
    }

    private static double[] Samples(SeekableSound sound, int from, int count)
    {
        var block = new SampleBuffer(sound.Format, count);
        sound.Read(from, count, block);
        return [.. block.Integers.ToArray().Select(sample => sample / (double)(1L << (sound.Format.Bits - 1)))];
    }

    private static List<double> Samples(AlignedSound sound, Func<AlignedSound, ReadOnlySpan<float>> signal)
    {
        var samples = new List<double>();
        for (int at = 0; at < Frames; at += 4000)
        {
            sound.Read(at, Math.Min(4000, Frames - at));
            foreach (float sample in signal(sound))
                samples.Add(sample);
        }

        return samples;
    }
}
