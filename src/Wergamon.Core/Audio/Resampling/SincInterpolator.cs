using System.Numerics;

namespace Wergamon.Core.Audio.Resampling;

/// <summary>
/// Values between samples by a windowed sinc (Smith, Digital Audio Resampling, 2002): taps for 2,048 places between two samples, and a
/// straight line between those.
/// </summary>
internal sealed class SincInterpolator
{
    /// <summary>Samples used on each side of a place.</summary>
    public const int Reach = 48;

    private const int Phases = 2048;

    private const double AttenuationDecibels = 120;

    private static readonly Lazy<float[][]> AtSameSpeed = new(() => MakeTaps(1));

    private readonly float[][] _taps;
    private readonly float[] _here = new float[2 * Reach];

    /// <param name="step">Distance between the places that are asked for, in samples; what would alias at more than 1 is left out.</param>
    public SincInterpolator(double step) => _taps = step == 1 ? AtSameSpeed.Value : MakeTaps(Math.Min(1, 1 / step));

    /// <param name="fraction">Place after a sample, from 0 up to 1.</param>
    public void MoveTo(double fraction)
    {
        double phase = fraction * Phases;
        int lower = Math.Min((int)phase, Phases - 1);
        float share = (float)(phase - lower);
        var (one, other) = (_taps[lower], _taps[lower + 1]);
        for (int i = 0; i < _here.Length; i += Vector<float>.Count)
        {
            var from = new Vector<float>(one, i);
            (from + (new Vector<float>(other, i) - from) * share).CopyTo(_here, i);
        }
    }

    /// <param name="samples">The <see cref="Reach"/> samples up to the one before the place, with it, and as many after it.</param>
    public float Of(ReadOnlySpan<float> samples)
    {
        var sum = Vector<float>.Zero;
        for (int i = 0; i < _here.Length; i += Vector<float>.Count)
            sum += new Vector<float>(samples[i..]) * new Vector<float>(_here, i);
        return Vector.Sum(sum);
    }

    private static float[][] MakeTaps(double cutoff)
    {
        var window = new KaiserWindow(AttenuationDecibels);
        return [.. Enumerable.Range(0, Phases + 1).Select(phase => TapsAt((double)phase / Phases, window, cutoff))];
    }

    private static float[] TapsAt(double fraction, KaiserWindow window, double cutoff)
    {
        var taps = new double[2 * Reach];
        for (int i = 0; i < taps.Length; i++)
        {
            double place = i - (Reach - 1) - fraction;
            double angle = Math.PI * place * cutoff;
            taps[i] = (Math.Abs(angle) < 1e-12 ? 1 : Math.Sin(angle) / angle) * window.At(place / Reach);
        }

        double sum = taps.Sum();
        return [.. taps.Select(tap => (float)(tap / sum))];
    }
}
