using System.Numerics;
using System.Runtime.InteropServices;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>Sums of products, to about seven digits.</summary>
internal static class Products
{
    /// <summary>Values that are added up as floats before they go into the sum.</summary>
    internal const int Run = 512;

    public static double Sum(ReadOnlySpan<float> one, ReadOnlySpan<float> other)
    {
        if (one.Length != other.Length)
            throw new ArgumentException("Both need one length.", nameof(other));
        ref float first = ref MemoryMarshal.GetReference(one), second = ref MemoryMarshal.GetReference(other);
        double sum = 0;
        for (int start = 0; start < one.Length; start += Run)
        {
            int end = Math.Min(one.Length, start + Run), at = start;
            var (even, odd) = (Vector<float>.Zero, Vector<float>.Zero);
            for (int width = Vector<float>.Count; at <= end - 2 * width; at += 2 * width)
            {
                even += Vector.LoadUnsafe(ref first, (nuint)at) * Vector.LoadUnsafe(ref second, (nuint)at);
                odd += Vector.LoadUnsafe(ref first, (nuint)(at + width)) * Vector.LoadUnsafe(ref second, (nuint)(at + width));
            }

            float rest = Vector.Sum(even + odd);
            for (; at < end; at++)
                rest += one[at] * other[at];
            sum += rest;
        }

        return sum;
    }

    public static double Energy(ReadOnlySpan<float> samples) => Sum(samples, samples);

    /// <summary>Energy of the residue when the second is subtracted from the first at the best gain.</summary>
    public static double Residue(ReadOnlySpan<float> one, ReadOnlySpan<float> other)
    {
        double energy = Energy(other), both = Sum(one, other);
        return Math.Max(0, Energy(one) - (energy > 0 ? both * both / energy : 0));
    }

    /// <summary>From -1 to 1; 0 when one of them is silent.</summary>
    public static double Correlation(ReadOnlySpan<float> one, ReadOnlySpan<float> other) => Correlation(one, Energy(one), other);

    /// <summary>The same where the energy of the first is known.</summary>
    public static double Correlation(ReadOnlySpan<float> one, double energy, ReadOnlySpan<float> other)
    {
        double energies = energy * Energy(other);
        return energies > 0 ? Sum(one, other) / Math.Sqrt(energies) : 0;
    }
}
