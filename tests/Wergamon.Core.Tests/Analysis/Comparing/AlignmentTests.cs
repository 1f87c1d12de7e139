using CsCheck;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Audio;
using Wergamon.Testing.Outside;

namespace Wergamon.Core.Tests.Analysis.Comparing;

public sealed class AlignmentTests
{
    private const int Rate = 22_050, Frames = 14 * Rate;

    private static readonly PcmFormat Mono = new(new SampleRate(Rate), 1, 32, SampleKind.Float);

    private static readonly SeekableSound First = new(Mono, Frames, (frame, _) => Sweeps.At((double)frame / Rate));

    [Fact]
    public void Offsets_gains_polarity_and_fractions_are_found_through_noise() =>
        Gen.Select(
            Gen.Int[-5 * Rate, 5 * Rate], Gen.Double[-20, 20], Gen.Bool, Gen.OneOf(Gen.Const(0.0), Gen.Double[-0.45, 0.45]),
            Gen.Double[-70, -30]).Sample(
            (offset, decibels, isReversed, fraction, noise) =>
            {
                double gain = Decibels.ToGain(decibels) * (isReversed ? -1 : 1), noiseGain = Decibels.ToGain(decibels + noise);
                var second = new SeekableSound(
                    Mono, Frames, (frame, _) => gain * Sweeps.At((frame - offset - fraction) / Rate) + noiseGain * Sweeps.Noise(frame));
                var found = Alignment.Find(First, second)!;
                Assert.Equal(1, found.Speed);
                Assert.Equal(isReversed, found.IsReversed);
                Assert.Equal(offset, found.Offset);
                // What a fraction changes may be less than the noise.
                Assert.True(
                    Math.Abs(found.Fraction - fraction) < 0.03 || found.Fraction == 0,
                    $"{found.Fraction} for {fraction} with noise at {noise}");
                if (noise < -50 && Math.Abs(fraction) > 0.05)
                    Assert.Equal(fraction, found.Fraction, 0.005);
            },
            iter: 25);

    [Theory]
    [InlineData(1.0001)]
    [InlineData(0.9985)]
    [InlineData(1.0417)]
    [InlineData(0.92)]
    public void Another_speed_is_found(double speed)
    {
        var second = new SeekableSound(Mono, (int)(Frames * speed), (frame, _) => 0.5 * Sweeps.At((frame - 300) / speed / Rate));
        var found = Alignment.Find(First, second)!;
        Assert.Equal(speed, found.Speed, 0.000002);
        Assert.Equal(300, found.Offset + found.Fraction, 0.2);
    }

    [Fact]
    public void Missing_file_returns_404()
    {
        Assert.False(Alignment.Find(First, new SeekableSound(Mono, Frames, (frame, _) => Sweeps.Noise(frame)))!.IsFound);
        Assert.Null(Alignment.Find(First, new SeekableSound(Mono, Frames, (_, _) => 0)) is { IsFound: true } found ? found : null);
        Assert.Null(Alignment.Find(new SeekableSound(Mono, Frames, (_, _) => 0), First));
    }

    [Fact]
    public void Loop_is_placed_at_its_start()
    {
        var loop = new SeekableSound(Mono, Frames, (frame, _) => Sweeps.At(frame % Rate / (double)Rate));
        Assert.Equal((0L, true), (Alignment.Find(loop, loop)!.Offset, Alignment.Find(loop, loop)!.IsWhole));
    }
}
