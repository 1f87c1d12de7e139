using CsCheck;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Tests.Audio;

public sealed class FourierTests
{
    /// <summary>Held against the sum that defines the transform, for lengths of every kind: quick ones, primes, products of them.</summary>
    [Fact]
    public void Transform_of_any_length_equals_the_definition_and_inverts() =>
        Gen.Select(
            Gen.OneOf(Gen.Int[1, 70], Gen.OneOfConst(84, 100, 147, 160, 196, 256, 300, 420, 441, 588, 640)),
            Gen.Int[0, 1000]).Sample((length, seed) =>
        {
            var random = new Random(seed);
            double[] real = [.. Enumerable.Range(0, length).Select(_ => random.NextDouble() - 0.5)],
                imaginary = [.. Enumerable.Range(0, length).Select(_ => random.NextDouble() - 0.5)];
            var (r, i) = ((double[])real.Clone(), (double[])imaginary.Clone());
            var transform = new FourierTransform(length);
            transform.Forward(r, i);
            for (int bin = 0; bin < length; bin++)
            {
                double sumR = 0, sumI = 0;
                for (int n = 0; n < length; n++)
                {
                    double angle = -2 * Math.PI * ((long)bin * n % length) / length;
                    sumR += real[n] * Math.Cos(angle) - imaginary[n] * Math.Sin(angle);
                    sumI += real[n] * Math.Sin(angle) + imaginary[n] * Math.Cos(angle);
                }

                Assert.Equal(sumR, r[bin], 1e-12 * length);
                Assert.Equal(sumI, i[bin], 1e-12 * length);
            }

            transform.Inverse(r, i);
            for (int n = 0; n < length; n++)
            {
                Assert.Equal(real[n], r[n] / length, 1e-13 * length);
                Assert.Equal(imaginary[n], i[n] / length, 1e-13 * length);
            }
        }, iter: 300);
}
