using CsCheck;
using Wergamon.Core.Analysis;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Resampling;
using Wergamon.Core.Audio.Steps;
using Wergamon.Testing;

namespace Wergamon.Core.Tests.Analysis;

/// <summary>Results of an analysis: real bits, real rate, waveform.</summary>
public sealed class AnalysisTests
{
    private static readonly PcmFormat Sixteen = new(SampleRate.AudioDisc, 2, 16);

    [Theory]
    [InlineData(16, 0, 16)]
    [InlineData(24, 8, 16)]
    [InlineData(24, 0, 24)]
    [InlineData(24, 4, 20)]
    [InlineData(16, 16, 0)]
    public void Real_bits_are_the_bits_used(int bits, int zeros, int real)
    {
        var format = Sixteen with { Bits = bits };
        var noise = TestSound.Noise(format, 10_000);
        var narrowed = new TestSound(format, 10_000, (block, _) =>
        {
            noise.Read(block);
            foreach (ref int sample in block.Integers)
                sample = zeros == bits ? 0 : sample >> zeros << zeros;
        });
        Assert.Equal(real, AudioAnalyser.Analyse(narrowed, _ => { }).RealBits);
    }

    /// <summary>A signal upsampled by the resampler needs only the lower rate; full-band noise needs its own.</summary>
    [Theory]
    [InlineData(44_100, 96_000, 44_100)]
    [InlineData(48_000, 96_000, 48_000)]
    [InlineData(96_000, 192_000, 96_000)]
    [InlineData(96_000, 96_000, 96_000)]
    [InlineData(44_100, 44_100, 44_100)]
    public void Real_rate_is_the_rate_needed(int made, int stored, int real)
    {
        var noise = TestSound.Noise(new PcmFormat(new SampleRate(made), 2, 24), 3 * made);
        // Quieter, or intersample peaks would clip, which adds new frequencies.
        IPcmReader sound = new TestSound(noise.Format, 3 * made, (block, _) =>
        {
            noise.Read(block);
            foreach (ref int sample in block.Integers)
                sample >>= 2;
        });
        if (stored != made)
            sound = new RequantisingReader(new ResamplingReader(sound, new SampleRate(stored)), 24);
        Assert.Equal(real, AudioAnalyser.Analyse(sound, _ => { }).RealRate);
    }

    [Fact]
    public void A_waveform_keeps_every_peak_at_its_position()
    {
        foreach (int frames in new[] { 1, 63, 64, 65, 63_999, 64_000, 64_001, 1_000_000, 10_000_019 })
        {
            int at = frames / 3;
            var sound = new TestSound(Sixteen, frames, (block, start) =>
            {
                block.Integers.Clear();
                if (at >= start && at < start + block.FrameCount)
                    (block.Integers[(int)(2 * (at - start))], block.Integers[(int)(2 * (at - start)) + 1]) = (16_384, -8_192);
            });
            var analysis = AudioAnalyser.Analyse(sound, _ => { });
            int columns = analysis.Waveform.Length / 2;
            Assert.InRange(columns, Math.Min(500, (frames + 63) / 64), Waveform.MaxColumns);
            var (lows, highs) = (
                analysis.Waveform.Where((_, i) => i % 2 == 0).Select(low => (sbyte)low).ToList(),
                analysis.Waveform.Where((_, i) => i % 2 == 1).Select(high => (sbyte)high).ToList());
            Assert.Equal((64, -32), (highs.Max(), lows.Min()));
            Assert.Equal(highs.IndexOf(64), lows.IndexOf(-32));
            double framesPerColumn = 64;
            while (frames / framesPerColumn > Waveform.MaxColumns)
                framesPerColumn *= 2;
            Assert.Equal((int)(at / framesPerColumn), highs.IndexOf(64));
            Assert.Equal((0.5, frames), (analysis.Peak, analysis.FrameCount));
        }
    }

    /// <summary>Every column of a fine waveform, whole and in stretches that lie partly outside, against the samples themselves.</summary>
    [Fact]
    public void A_stretch_of_the_fine_waveform_holds_the_extremes_of_its_samples() =>
        Gen.Select(
            Gen.Int[1, 5000], Gen.Int[-2000, 6000], Gen.Int[1, 4000], Gen.Int[1, 300],
            Gen.Int[1, 2]).Sample((frames, from, length, columns, channels) =>
        {
            var format = new PcmFormat(new SampleRate(44_100), channels, 16);
            var samples = new List<int>();
            var block = new SampleBuffer(format);
            for (var sound = TestSound.Noise(format, frames, frames); sound.Read(block) > 0;)
                samples.AddRange(block.Integers);
            using var file = new MemoryStream();
            Assert.Equal(frames, FineWaveform.Write(TestSound.Noise(format, frames, frames), file, _ => { }));
            Assert.Equal((frames + FineWaveform.FramesPerColumn - 1) / FineWaveform.FramesPerColumn * 2, file.Length);
            var stretch = FineWaveform.Read(file, from, from + length, columns);
            Assert.Equal(2 * columns, stretch.Length);
            const int Each = FineWaveform.FramesPerColumn;
            double start = (double)from / Each, wide = (double)length / columns / Each;
            for (int column = 0; column < columns; column++)
            {
                int first = (int)Math.Floor(start + column * wide);
                int last = Math.Max(first + 1, (int)Math.Floor(start + (column + 1) * wide));
                var part = samples.Skip(Math.Max(0, first) * Each * channels).Take((last - Math.Max(0, first)) * Each * channels).ToList();
                var (low, high) = part.Count == 0 || last <= 0 ? (0, 0) : (part.Min(), part.Max());
                Assert.Equal(Math.Round(low / 32768.0 * 127), (sbyte)stretch[2 * column]);
                Assert.Equal(Math.Round(high / 32768.0 * 127), (sbyte)stretch[2 * column + 1]);
            }
        });
}
