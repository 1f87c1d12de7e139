namespace Wergamon.Core.Audio.Resampling;

/// <summary>The Kaiser window (Oppenheim and Schafer, Discrete-Time Signal Processing, chapter 7).</summary>
internal sealed class KaiserWindow
{
    private readonly double _beta;
    private readonly double _scale;

    /// <param name="attenuationDecibels">Side lobe attenuation; above 50.</param>
    public KaiserWindow(double attenuationDecibels)
    {
        _beta = 0.1102 * (attenuationDecibels - 8.7);
        _scale = 1 / BesselI0(_beta);
    }

    /// <param name="place">From -1 at one end to 1 at the other.</param>
    public double At(double place)
    {
        double edge = 1 - place * place;
        return edge <= 0 ? 0 : BesselI0(_beta * Math.Sqrt(edge)) * _scale;
    }

    /// <summary>The window in front of a transform, from one end on.</summary>
    public static double[] Of(int length, double attenuationDecibels)
    {
        var window = new KaiserWindow(attenuationDecibels);
        return [.. Enumerable.Range(0, length).Select(i => window.At(2.0 * i / length - 1))];
    }

    /// <summary>Modified Bessel function of the first kind, order 0, by its power series.</summary>
    private static double BesselI0(double x)
    {
        double sum = 1, term = 1;
        for (int n = 1; term > sum * 1e-17; n++)
        {
            term *= x / (2 * n) * (x / (2 * n));
            sum += term;
        }

        return sum;
    }
}
