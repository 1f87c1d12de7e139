using System.Numerics;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis;

/// <summary>Finds the offset between two signals by cross-correlation.</summary>
internal static class Alignment
{
    /// <summary>Frames averaged for the coarse search, and the reach of the fine search around its result.</summary>
    private const int Coarse = 8;

    /// <param name="one">One channel of a section of the first signal.</param>
    /// <param name="other">The same section of the second, with <paramref name="reach"/> more frames at each end.</param>
    /// <param name="reach">Maximum offset in frames; a multiple of 8.</param>
    /// <returns>Frames by which the second signal is late; negative when it is early.</returns>
    public static int Find(ReadOnlySpan<float> one, ReadOnlySpan<float> other, int reach)
    {
        var (small, smallOther) = (Average(one), Average(other));
        int coarse = Best(small, smallOther, 0, 2 * reach / Coarse) * Coarse;
        return Best(one, other, Math.Max(0, coarse - Coarse), Math.Min(2 * reach, coarse + Coarse)) - reach;
    }

    /// <summary>The offset with the greatest magnitude of the product, since polarity may be reversed.</summary>
    private static int Best(ReadOnlySpan<float> one, ReadOnlySpan<float> other, int first, int last)
    {
        int best = first;
        double greatest = -1;
        for (int place = first; place <= last; place++)
        {
            double product = Math.Abs(Product(one, other.Slice(place, one.Length)));
            if (product > greatest)
                (best, greatest) = (place, product);
        }

        return best;
    }

    private static double Product(ReadOnlySpan<float> one, ReadOnlySpan<float> other)
    {
        var sums = Vector<float>.Zero;
        int at = 0;
        for (int width = Vector<float>.Count; at <= one.Length - width; at += width)
            sums += new Vector<float>(one[at..]) * new Vector<float>(other[at..]);
        double sum = Vector.Sum(sums);
        for (; at < one.Length; at++)
            sum += one[at] * other[at];
        return sum;
    }

    private static float[] Average(ReadOnlySpan<float> samples)
    {
        var averages = new float[samples.Length / Coarse];
        for (int i = 0; i < averages.Length; i++)
        {
            float sum = 0;
            foreach (float sample in samples.Slice(i * Coarse, Coarse))
                sum += sample;
            averages[i] = sum / Coarse;
        }

        return averages;
    }
}
