using System.Numerics;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis;

/// <summary>Minimum and maximum of many samples, vectorised.</summary>
internal static class SampleRange
{
    /// <summary>Extends a range to all samples.</summary>
    public static (float Low, float High) Widen(ReadOnlySpan<float> samples, float low, float high)
    {
        int width = Vector<float>.Count;
        if (samples.Length >= width)
        {
            var lows = new Vector<float>(low);
            var highs = new Vector<float>(high);
            for (; samples.Length >= width; samples = samples[width..])
            {
                var here = new Vector<float>(samples);
                lows = Vector.MinNative(lows, here);
                highs = Vector.MaxNative(highs, here);
            }

            for (int lane = 0; lane < width; lane++)
            {
                low = float.MinNative(low, lows[lane]);
                high = float.MaxNative(high, highs[lane]);
            }
        }

        foreach (float sample in samples)
        {
            low = Math.Min(low, sample);
            high = Math.Max(high, sample);
        }

        return (low, high);
    }
}
