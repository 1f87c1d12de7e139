using Wergamon.Core.Analysis;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Planning;
using Wergamon.Testing;

namespace Wergamon.Core.Tests.Analysis;

/// <summary>Comparison of two signals: what was done to the second is detected and put into words.</summary>
public sealed class ComparisonTests
{
    private const int Frames = 12 * 44_100;

    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 2, 24);

    [Fact]
    public void Shift_level_and_polarity_are_found_exactly()
    {
        foreach (var (later, gain) in new[] { (0L, 1.0), (588, 1.0), (-588, 1.0), (1, 1.0), (-13, 1.0), (44_100, 0.5), (-88_200, 0.5), (0, -1.0), (7, -0.5) })
        {
            var difference = Compare(later, gain, (_, _) => 0)!;
            Assert.Equal(later, difference.LaterByFrames);
            Assert.Equal(20 * Math.Log10(Math.Abs(gain)), difference.Decibels, 2);
            Assert.Equal(gain < 0, difference.IsReversed);
            Assert.True(difference.ResidueDecibels < -85, $"{later} {gain}: {difference.ResidueDecibels}");
        }
    }

    [Fact]
    public void Differences_are_described()
    {
        Assert.Equal("nothing can be told apart", Compare(0, 1, (_, _) => 0)!.InWords());
        Assert.Equal("the same sound, but starts 588 samples (13 ms) later and is 6.0 dB softer", Compare(588, 0.5, (_, _) => 0)!.InWords());
        Assert.Equal("the same sound, but has its polarity reversed", Compare(0, -1, (_, _) => 0)!.InWords());
        Assert.Equal("the same sound except from 0:04 to 0:06", Compare(0, 1, (frame, _) => frame is >= 4 * 44_100 and < 6 * 44_100 ? Noise(frame) : 0)!.InWords());
        Assert.Equal("the same recording, encoded or processed: what differs lies 30 dB below the sound", Compare(0, 1, (frame, sound) => sound * 0.0316 * Math.Sign(Noise(frame)))!.InWords());
        Assert.StartsWith("another recording", Compare(0, 0, (frame, _) => Noise(frame))!.InWords(), StringComparison.Ordinal);
    }

    [Fact]
    public void Incomparable_signals_give_nothing()
    {
        Assert.Null(AudioComparison.Compare(() => TestSound.Music(Format, Frames), () => TestSound.Music(Format with { Channels = 1 }, Frames), _ => { }));
        Assert.Null(AudioComparison.Compare(() => new TestSound(Format, Frames, (block, _) => block.Integers.Clear()), () => TestSound.Music(Format, Frames), _ => { }));
    }

    /// <summary>The second signal is the first, delayed by some frames, at a gain, with something added.</summary>
    private static AudioDifference? Compare(long later, double gain, Func<long, double, double> added) => AudioComparison.Compare(
        () => Sound(0, (frame, channel) => Original(frame, channel)),
        () => Sound(later, (frame, channel) => gain * Original(frame, channel) + added(frame, Original(frame, channel))),
        _ => { });

    private static TestSound Sound(long later, Func<long, int, double> sample) => new(Format, Frames, (block, start) =>
    {
        for (int i = 0; i < block.Integers.Length; i++)
            block.Integers[i] = (int)Math.Round((1 << 23) * Math.Clamp(sample(start + i / 2 - later, i % 2), -1, 1));
    });

    /// <summary>Noise that swells, so that no two places are alike.</summary>
    private static double Original(long frame, int channel) => frame < 0 ? 0 : (0.6 + 0.3 * Math.Sin(frame / 30_000.0)) * Noise(2 * frame + channel + 1_000_000_007);

    private static double Noise(long frame)
    {
        ulong value = (ulong)frame * 0x9E3779B97F4A7C15UL;
        value = (value ^ value >> 30) * 0xBF58476D1CE4E5B9UL;
        value = (value ^ value >> 27) * 0x94D049BB133111EBUL;
        return ((value ^ value >> 31) >> 11) * (1.0 / (1UL << 52)) - 1;
    }
}
