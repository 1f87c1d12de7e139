using CsCheck;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Testing;

namespace Wergamon.Core.Tests.Audio;

/// <summary>Parts of a sound, silence at its ends, fades.</summary>
public sealed class RangeTests
{
    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 2, 16);

    [Fact]
    public void A_range_has_just_its_samples()
    {
        Gen.Select(Gen.Int[0, 20_000], Gen.Int[0, 20_000], Gen.Int[1, 9_000]).Sample((start, count, capacity) =>
        {
            var all = ReadAll(TestSound.Noise(Format, 15_000), 4096);
            using var reader = new RangeReader(TestSound.Noise(Format, 15_000), new FrameRange(start, count));
            Assert.Equal(all.Skip(2 * start).Take(2 * count), ReadAll(reader, capacity));
        }, iter: 200);
    }

    [Fact]
    public void Silence_at_the_ends_is_measured_to_the_frame()
    {
        Gen.Select(Gen.Int[0, 10_000], Gen.Int[1, 10_000], Gen.Int[0, 10_000]).Sample((before, sound, after) =>
        {
            // One sample of one channel is sound, and so is silence between sounds.
            var samples = new int[2 * (before + sound + after)];
            samples[2 * before + 1] = -1;
            samples[2 * (before + sound - 1)] = 1;
            Assert.Equal((new FrameRange(before, sound), before + sound + after), DigitalSilence.Measure(Given(samples)));
        }, iter: 200);
        Assert.Equal((default, 5_000), DigitalSilence.Measure(Given(new int[10_000])));
    }

    /// <summary>Starts and ends at silence, is half as loud in the middle of a fade, untouched between them.</summary>
    [Fact]
    public void A_fade_rises_and_falls_evenly()
    {
        const int Length = 100_000, In = 22_050, Out = 44_100;
        var times = new FadeTimes(TimeSpan.FromSeconds(0.5), TimeSpan.FromSeconds(1));
        using var reader = new FadeReader(Given([.. Enumerable.Repeat(16_384, 2 * Length)]), times, Length);
        var gains = new List<double>();
        var block = new SampleBuffer(reader.Format);
        while (reader.Read(block) > 0)
            gains.AddRange(block.Doubles.ToArray().Where((_, i) => i % 2 == 0).Select(sample => sample * 2));
        Assert.Equal(Length, gains.Count);
        Assert.All(gains.Take(In).Zip(gains.Skip(1)), pair => Assert.True(pair.First < pair.Second));
        Assert.All(gains.Skip(In).Take(Length - In - Out), gain => Assert.Equal(1, gain));
        Assert.All(gains.Skip(Length - Out).Zip(gains.Skip(Length - Out + 1)), pair => Assert.True(pair.First > pair.Second));
        Assert.InRange(gains[0], 0, 1e-8);
        Assert.InRange(gains[^1], 0, 1e-8);
        Assert.Equal(0.5, gains[In / 2], 4);
        Assert.Equal(0.5, gains[Length - Out / 2], 4);
    }

    private static List<int> ReadAll(IPcmReader reader, int capacity)
    {
        var all = new List<int>();
        var block = new SampleBuffer(reader.Format, capacity);
        while (reader.Read(block) > 0)
            all.AddRange(block.Integers);
        return all;
    }

    private static TestSound Given(int[] samples) =>
        new(Format, samples.Length / 2, (block, start) => samples.AsSpan(2 * (int)start, 2 * block.FrameCount).CopyTo(block.Integers));
}
