using System.Numerics;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis;

/// <summary>Finds by how much one sound starts later than another: where their product is greatest.</summary>
internal static class Alignment
{
    /// <summary>The coarse search looks at averages of so many frames; the fine one goes this far around its result.</summary>
    private const int Coarse = 8;

    /// <param name="one">One channel of a stretch of the first sound.</param>
    /// <param name="other">The same stretch of the second, with <paramref name="reach"/> more frames at each end.</param>
    /// <param name="reach">How far apart they may be, in frames; a multiple of 8.</param>
    /// <returns>Frames by which the second sound comes later; below 0 where it comes earlier.</returns>
    public static int Find(ReadOnlySpan<float> one, ReadOnlySpan<float> other, int reach)
    {
        var (small, smallOther) = (Average(one), Average(other));
        int coarse = Best(small, smallOther, 0, 2 * reach / Coarse) * Coarse;
        return Best(one, other, Math.Max(0, coarse - Coarse), Math.Min(2 * reach, coarse + Coarse)) - reach;
    }

    /// <summary>The place from first to last where the product has the greatest magnitude: polarity may be reversed.</summary>
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
