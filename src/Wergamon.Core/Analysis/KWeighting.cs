using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis;

/// <summary>
/// The K-weighting filter of ITU-R BS.1770-4, annex 1: a shelf for the head, then a high-pass. The standard states coefficients
/// for 48 kHz; for other rates the same analogue filters are transformed again. Up to four channels go through it side by side.
/// </summary>
public sealed class KWeighting
{
    /// <summary>Channels that one filter takes.</summary>
    public const int MaxChannels = 4;

    /// <summary>Below this a state counts as silence: without it, decaying filters end in denormal numbers, which are slow.</summary>
    private const double Silence = 1e-30;

    private readonly Biquad _shelf, _highPass;
    private Vector256<double> _shelf1, _shelf2, _pass1, _pass2;

    public KWeighting(SampleRate rate) => (_shelf, _highPass) = (Shelf(rate), HighPass(rate));

    /// <summary>Coefficients of a second-order section, those of the feedback with the sign of the standard.</summary>
    public readonly record struct Biquad(double B0, double B1, double B2, double A1, double A2)
    {
        /// <summary>What a sample adds to the first state when the output, which is a step away, is left out of the sum.</summary>
        internal double In1 => B1 - A1 * B0;

        /// <summary>The same for the second state.</summary>
        internal double In2 => B2 - A2 * B0;
    }

    /// <summary>Stage 1. The analogue parameters give the standard's table 1 at 48 kHz.</summary>
    public static Biquad Shelf(SampleRate rate)
    {
        const double Frequency = 1681.974450955533, GainDecibels = 3.999843853973347, Q = 0.7071752369554196,
            ShelfExponent = 0.4996667741545416;
        double k = Math.Tan(Math.PI * Frequency / rate.Hertz), high = Math.Pow(10, GainDecibels / 20), band = Math.Pow(high, ShelfExponent),
            a0 = 1 + k / Q + k * k;
        return new Biquad(
            (high + band * k / Q + k * k) / a0, 2 * (k * k - high) / a0, (high - band * k / Q + k * k) / a0, 2 * (k * k - 1) / a0,
            (1 - k / Q + k * k) / a0);
    }

    /// <summary>Stage 2. The analogue parameters give the standard's table 2 at 48 kHz.</summary>
    public static Biquad HighPass(SampleRate rate)
    {
        const double Frequency = 38.13547087602444, Q = 0.5003270373238773;
        double k = Math.Tan(Math.PI * Frequency / rate.Hertz), a0 = 1 + k / Q + k * k;
        return new Biquad(1, -2, 1, 2 * (k * k - 1) / a0, (1 - k / Q + k * k) / a0);
    }

    /// <summary>Filters frames and returns the sum of the squares of each channel.</summary>
    /// <param name="samples">Interleaved.</param>
    /// <param name="stride">Channels of a frame.</param>
    /// <param name="first">The first channel taken; up to four from there.</param>
    public Vector256<double> SumOfSquares(ReadOnlySpan<float> samples, int stride, int first)
    {
        var sum = stride == 2 ? SumStereo(samples) : SumFrames(samples, stride, first, Math.Min(MaxChannels, stride - first));
        (_shelf1, _shelf2, _pass1, _pass2) = (Settle(_shelf1), Settle(_shelf2), Settle(_pass1), Settle(_pass2));
        return sum;
    }

    /// <summary>The usual case, twice as fast: both sides of a frame are loaded as one.</summary>
    private Vector256<double> SumStereo(ReadOnlySpan<float> samples)
    {
        var (s1, s2, p1, p2) = (_shelf1.GetLower(), _shelf2.GetLower(), _pass1.GetLower(), _pass2.GetLower());
        Vector128<double> b0 = Vector128.Create(_shelf.B0), b1 = Vector128.Create(_shelf.In1), b2 = Vector128.Create(_shelf.In2),
            a1 = Vector128.Create(-_shelf.A1), a2 = Vector128.Create(-_shelf.A2);
        Vector128<double> g1 = Vector128.Create(_highPass.In1), g2 = Vector128.Create(_highPass.In2), h1 = Vector128.Create(-_highPass.A1),
            h2 = Vector128.Create(-_highPass.A2), sum = default;
        foreach (double frame in MemoryMarshal.Cast<float, double>(samples))
        {
            var x = Vector128.WidenLower(Vector128.CreateScalarUnsafe(frame).AsSingle());
            var y = Vector128.FusedMultiplyAdd(b0, x, s1);
            (s1, s2) = (
                Vector128.FusedMultiplyAdd(a1, s1, Vector128.FusedMultiplyAdd(b1, x, s2)), Vector128.FusedMultiplyAdd(a2, s1, b2 * x));
            var z = y + p1;
            (p1, p2) = (
                Vector128.FusedMultiplyAdd(h1, p1, Vector128.FusedMultiplyAdd(g1, y, p2)), Vector128.FusedMultiplyAdd(h2, p1, g2 * y));
            sum = Vector128.FusedMultiplyAdd(z, z, sum);
        }

        (_shelf1, _shelf2, _pass1, _pass2) = (s1.ToVector256(), s2.ToVector256(), p1.ToVector256(), p2.ToVector256());
        return sum.ToVector256();
    }

    /// <summary>
    /// Two stereo sounds of one rate side by side, at the cost of one: a frame waits for the one before it, but not for that of the other
    /// sound.
    /// </summary>
    /// <param name="one">As many frames as <paramref name="other"/>, interleaved.</param>
    /// <returns>The sums of the squares: both sides of the first, then both sides of the second.</returns>
    internal static Vector256<double> SumOfSquares(KWeighting first, KWeighting second, ReadOnlySpan<float> one, ReadOnlySpan<float> other)
    {
        var (shelf, highPass) = (first._shelf, first._highPass);
        var (s1, s2, p1, p2) = (
            Both(first._shelf1, second._shelf1), Both(first._shelf2, second._shelf2), Both(first._pass1, second._pass1),
            Both(first._pass2, second._pass2));
        Vector256<double> b0 = Vector256.Create(shelf.B0), b1 = Vector256.Create(shelf.In1), b2 = Vector256.Create(shelf.In2),
            a1 = Vector256.Create(-shelf.A1), a2 = Vector256.Create(-shelf.A2);
        Vector256<double> g1 = Vector256.Create(highPass.In1), g2 = Vector256.Create(highPass.In2), h1 = Vector256.Create(-highPass.A1),
            h2 = Vector256.Create(-highPass.A2), sum = default;
        var ones = MemoryMarshal.Cast<float, double>(one);
        var others = MemoryMarshal.Cast<float, double>(other)[..ones.Length];
        for (int at = 0; at < ones.Length; at++)
        {
            var x = Vector256.WidenLower(Vector128.Create(ones[at], others[at]).AsSingle().ToVector256Unsafe());
            var y = Vector256.FusedMultiplyAdd(b0, x, s1);
            (s1, s2) = (
                Vector256.FusedMultiplyAdd(a1, s1, Vector256.FusedMultiplyAdd(b1, x, s2)), Vector256.FusedMultiplyAdd(a2, s1, b2 * x));
            var z = y + p1;
            (p1, p2) = (
                Vector256.FusedMultiplyAdd(h1, p1, Vector256.FusedMultiplyAdd(g1, y, p2)), Vector256.FusedMultiplyAdd(h2, p1, g2 * y));
            sum = Vector256.FusedMultiplyAdd(z, z, sum);
        }

        (s1, s2, p1, p2) = (Settle(s1), Settle(s2), Settle(p1), Settle(p2));
        (first._shelf1, first._shelf2, first._pass1, first._pass2) = (
            s1.GetLower().ToVector256(), s2.GetLower().ToVector256(), p1.GetLower().ToVector256(), p2.GetLower().ToVector256());
        (second._shelf1, second._shelf2, second._pass1, second._pass2) = (
            s1.GetUpper().ToVector256(), s2.GetUpper().ToVector256(), p1.GetUpper().ToVector256(), p2.GetUpper().ToVector256());
        return sum;

        static Vector256<double> Both(Vector256<double> first, Vector256<double> second) =>
            Vector256.Create(first.GetLower(), second.GetLower());
    }

    private Vector256<double> SumFrames(ReadOnlySpan<float> samples, int stride, int first, int channels)
    {
        var (s1, s2, p1, p2) = (_shelf1, _shelf2, _pass1, _pass2);
        Vector256<double> b0 = Vector256.Create(_shelf.B0), b1 = Vector256.Create(_shelf.In1), b2 = Vector256.Create(_shelf.In2),
            a1 = Vector256.Create(-_shelf.A1), a2 = Vector256.Create(-_shelf.A2);
        Vector256<double> g1 = Vector256.Create(_highPass.In1), g2 = Vector256.Create(_highPass.In2), h1 = Vector256.Create(-_highPass.A1),
            h2 = Vector256.Create(-_highPass.A2), sum = default;
        for (int at = first; at + channels <= samples.Length; at += stride)
        {
            var x = channels switch
            {
                1 => Vector256.CreateScalar((double)samples[at]),
                2 => Vector256.Create(samples[at], samples[at + 1], 0d, 0d),
                3 => Vector256.Create(samples[at], samples[at + 1], samples[at + 2], 0d),
                _ => Vector256.Create((double)samples[at], samples[at + 1], samples[at + 2], samples[at + 3]),
            };
            var y = Vector256.FusedMultiplyAdd(b0, x, s1);
            (s1, s2) = (
                Vector256.FusedMultiplyAdd(a1, s1, Vector256.FusedMultiplyAdd(b1, x, s2)), Vector256.FusedMultiplyAdd(a2, s1, b2 * x));
            var z = y + p1;
            (p1, p2) = (
                Vector256.FusedMultiplyAdd(h1, p1, Vector256.FusedMultiplyAdd(g1, y, p2)), Vector256.FusedMultiplyAdd(h2, p1, g2 * y));
            sum = Vector256.FusedMultiplyAdd(z, z, sum);
        }

        (_shelf1, _shelf2, _pass1, _pass2) = (s1, s2, p1, p2);
        return sum;
    }

    private static Vector256<double> Settle(Vector256<double> state) =>
        Vector256.ConditionalSelect(Vector256.GreaterThan(Vector256.Abs(state), Vector256.Create(Silence)), state, Vector256<double>.Zero);
}
