using System.Numerics;
using System.Runtime.InteropServices;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>Energies of two signals and of their residue, to about seven digits.</summary>
internal readonly record struct PairEnergies(double First, double Second, double Residue)
{
    /// <summary>A part with less residue than this, relative to the whole sound, counts as equal.</summary>
    private const double EqualDecibels = -80;

    public static PairEnergies operator +(PairEnergies one, PairEnergies other) =>
        new(one.First + other.First, one.Second + other.Second, one.Residue + other.Residue);

    /// <summary>
    /// Brings the second signal to the level of the first, subtracts it, and measures all three on the way: what is in a register need not
    /// be read again.
    /// </summary>
    /// <param name="gain">Linear.</param>
    /// <param name="matched">Gets the second at that gain; all are of one length.</param>
    /// <param name="residue">Gets the first minus the matched second.</param>
    public static (PairEnergies Energies, PairDifference Difference) OfMatched(
        ReadOnlySpan<float> first, ReadOnlySpan<float> second, float gain, Span<float> matched, Span<float> residue)
    {
        if (second.Length != first.Length || matched.Length != first.Length || residue.Length != first.Length)
            throw new ArgumentException("All need one length.", nameof(second));
        ref float one = ref MemoryMarshal.GetReference(first), other = ref MemoryMarshal.GetReference(second);
        ref float match = ref MemoryMarshal.GetReference(matched), left = ref MemoryMarshal.GetReference(residue);
        var sum = default(PairEnergies);
        var (equal, greatest) = (Vector<int>.Zero, Vector<float>.Zero);
        int at = 0, width = Vector<float>.Count;
        while (at <= first.Length - width)
        {
            var (firstSum, secondSum, residueSum) = (Vector<float>.Zero, Vector<float>.Zero, Vector<float>.Zero);
            for (int end = Math.Min(first.Length - width, at + Products.Run - width); at <= end; at += width)
            {
                var (here, there) = (Vector.LoadUnsafe(ref one, (nuint)at), Vector.LoadUnsafe(ref other, (nuint)at));
                var plain = Vector.Abs(here - there);
                equal += Vector.Equals(plain, Vector<float>.Zero);
                greatest = Vector.MaxNative(greatest, plain);
                var atLevel = there * gain;
                var difference = here - atLevel;
                atLevel.StoreUnsafe(ref match, (nuint)at);
                difference.StoreUnsafe(ref left, (nuint)at);
                firstSum += here * here;
                secondSum += there * there;
                residueSum += difference * difference;
            }

            sum += new PairEnergies(Vector.Sum(firstSum), Vector.Sum(secondSum), Vector.Sum(residueSum));
        }

        var unlike = new PairDifference(-Vector.Sum(equal), 0);
        for (int lane = 0; lane < width; lane++)
            unlike = unlike with { Max = Math.Max(unlike.Max, greatest[lane]) };
        for (; at < first.Length; at++)
        {
            unlike = new PairDifference(
                unlike.Equal + (first[at] == second[at] ? 1 : 0), Math.Max(unlike.Max, Math.Abs(first[at] - second[at])));
            matched[at] = second[at] * gain;
            residue[at] = first[at] - matched[at];
            sum += new PairEnergies((double)first[at] * first[at], (double)second[at] * second[at], (double)residue[at] * residue[at]);
        }

        return (sum, unlike);
    }

    /// <summary>Whether a part is different, rather than rounded differently.</summary>
    /// <param name="music">Mean energy of such parts of the whole sound.</param>
    public static bool Differ(double residue, double music) =>
        residue > 0 && (music <= 0 || 10 * Math.Log10(residue / music) > EqualDecibels);
}

/// <summary>How two signals differ, sample by sample.</summary>
/// <param name="Equal">Samples that are equal.</param>
/// <param name="Max">The greatest difference; full scale is 1.</param>
internal readonly record struct PairDifference(int Equal, float Max);
