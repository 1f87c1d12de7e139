using CsCheck;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Testing;

namespace Wergamon.Core.Tests.Audio;

public sealed class FiniteTests
{
    private static readonly Gen<double> Sample = Gen.Frequency(
        (30, Gen.Double[-2, 2]),
        (1, Gen.OneOfConst(double.NaN, double.PositiveInfinity, double.NegativeInfinity, 1.1e6, -1e30, 1e6, -0.0)));

    /// <summary>Wherever they stand: usable values stay as they are, others become zeros and are counted.</summary>
    [Fact]
    public void Impossible_sample_values_are_read_as_silence() =>
        Gen.Select(Sample.Array[0, 200], Gen.OneOfConst(32, 64), Gen.Int[1, 70]).Sample((samples, bits, capacity) =>
        {
            var format = new PcmFormat(SampleRate.AudioDisc, 1, bits, SampleKind.Float);
            using var reader = new FiniteReader(new TestSound(format, samples.Length, (block, start) =>
            {
                for (int i = 0; i < block.FrameCount; i++)
                {
                    if (bits == 64)
                        block.Doubles[i] = samples[start + i];
                    else
                        block.Floats[i] = (float)samples[start + i];
                }
            }));
            var block = new SampleBuffer(format, capacity);
            var read = new List<double>();
            while (reader.Read(block) > 0)
                read.AddRange(bits == 64 ? block.Doubles.ToArray() : block.Floats.ToArray().Select(sample => (double)sample));
            var usable = samples.Select(sample => Math.Abs(sample) <= 1e6 ? bits == 64 ? sample : (float)sample : 0);
            Assert.Equal(usable, read);
            int bad = samples.Count(sample => !(Math.Abs(sample) <= 1e6));
            Assert.Equal(bad > 0, reader.Damage is [var said] && said.StartsWith($"{bad} sample", StringComparison.Ordinal));
        });
}
