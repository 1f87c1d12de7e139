using CsCheck;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Testing;

namespace Wergamon.Core.Tests.Audio;

public sealed class PaddingTests
{
    /// <summary>A few samples beyond the stated length are cut off; more than an encoder adds is music and stays whole.</summary>
    [Fact]
    public void Padding_is_cut_and_music_is_kept() =>
        Gen.Select(
            Gen.Int[1, 30_000],
            Gen.OneOf(Gen.Int[-50, 60], Gen.Int[PaddingCutter.MaxPadding - 20, PaddingCutter.MaxPadding + 20], Gen.Int[9_000, 40_000]),
            Gen.OneOfConst(16, 32), Gen.Int[1, 5_000]).Sample((stated, extra, bits, capacity) =>
        {
            var format = new PcmFormat(SampleRate.AudioDisc, 2, bits);
            long there = Math.Max(1, stated + extra);
            using var cutter = new PaddingCutter(TestSound.Noise(format, there), stated);
            var block = new SampleBuffer(format, capacity);
            var got = new List<int>();
            while (cutter.Read(block) > 0)
                got.AddRange(block.Integers);
            long expected = there > stated + PaddingCutter.MaxPadding ? there : Math.Min(there, stated);
            var whole = new SampleBuffer(format, (int)there);
            TestSound.Noise(format, there).Read(whole);
            Assert.Equal(whole.Integers[..(int)(2 * expected)].ToArray(), got);
        }, iter: 200);
}
