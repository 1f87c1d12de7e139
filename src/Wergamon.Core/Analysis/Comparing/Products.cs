using System.Numerics;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>Sums of products, in double precision.</summary>
internal static class Products
{
    public static double Sum(ReadOnlySpan<float> one, ReadOnlySpan<float> other)
    {
        var (low, high) = (Vector<double>.Zero, Vector<double>.Zero);
        int at = 0;
        for (int width = Vector<float>.Count; at <= one.Length - width; at += width)
        {
            Vector.Widen(new Vector<float>(one[at..]), out var oneLow, out var oneHigh);
            Vector.Widen(new Vector<float>(other[at..]), out var otherLow, out var otherHigh);
            low += oneLow * otherLow;
            high += oneHigh * otherHigh;
        }

        double sum = Vector.Sum(low + high);
        for (; at < one.Length; at++)
            sum += (double)one[at] * other[at];
        return sum;
    }

    public static double Energy(ReadOnlySpan<float> samples) => Sum(samples, samples);

    /// <summary>Energy of what is left of the first after the second, at the gain that suits best, is taken from it.</summary>
    public static double Residue(ReadOnlySpan<float> one, ReadOnlySpan<float> other)
    {
        double energy = Energy(other), both = Sum(one, other);
        return Math.Max(0, Energy(one) - (energy > 0 ? both * both / energy : 0));
    }

    /// <summary>From -1 to 1; 0 when one of them is silent.</summary>
    public static double Correlation(ReadOnlySpan<float> one, ReadOnlySpan<float> other)
    {
        double energies = Energy(one) * Energy(other);
        return energies > 0 ? Sum(one, other) / Math.Sqrt(energies) : 0;
    }
}
