using System.Numerics;
using System.Runtime.InteropServices;

namespace Wergamon.Core.Analysis;

/// <summary>Minimum and maximum of many samples, vectorised.</summary>
internal static class SampleRange
{
    /// <summary>Extends a range to all samples.</summary>
    public static (float Low, float High) Widen(ReadOnlySpan<float> samples, float low, float high)
    {
        int at = 0, width = Vector<float>.Count;
        if (samples.Length >= 2 * width)
        {
            // Two of each: one minimum waits for the one before it.
            var (lows, otherLows) = (new Vector<float>(low), new Vector<float>(low));
            var (highs, otherHighs) = (new Vector<float>(high), new Vector<float>(high));
            ref float from = ref MemoryMarshal.GetReference(samples);
            for (; at <= samples.Length - 2 * width; at += 2 * width)
            {
                var (here, next) = (Vector.LoadUnsafe(ref from, (nuint)at), Vector.LoadUnsafe(ref from, (nuint)(at + width)));
                (lows, otherLows) = (Vector.MinNative(lows, here), Vector.MinNative(otherLows, next));
                (highs, otherHighs) = (Vector.MaxNative(highs, here), Vector.MaxNative(otherHighs, next));
            }

            for (int lane = 0; lane < width; lane++)
            {
                low = float.MinNative(low, float.MinNative(lows[lane], otherLows[lane]));
                high = float.MaxNative(high, float.MaxNative(highs[lane], otherHighs[lane]));
            }
        }

        foreach (float sample in samples[at..])
        {
            low = Math.Min(low, sample);
            high = Math.Max(high, sample);
        }

        return (low, high);
    }
}
