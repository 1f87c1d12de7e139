using System.Numerics;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>How alike sections are to every place of one longer signal, from -1 to 1, by the fast Fourier transform.</summary>
internal sealed class CrossCorrelation
{
    private readonly float[] _within;
    private readonly FourierTransform _fourier;
    private readonly double[] _real, _imaginary, _sectionReal, _sectionImaginary;

    /// <param name="within">Where sections are looked for.</param>
    public CrossCorrelation(float[] within)
    {
        _within = within;
        int length = 4;
        while (length < within.Length)
            length *= 2;
        _fourier = new FourierTransform(length);
        (_real, _imaginary, _sectionReal, _sectionImaginary) = (
            new double[length], new double[length], new double[length], new double[length]);
        for (int i = 0; i < within.Length; i++)
            _real[i] = within[i];
        _fourier.Forward(_real, _imaginary);
    }

    /// <param name="section">At most as long as the signal.</param>
    /// <returns>For each place, the product over the root of both energies; 0 where there is silence.</returns>
    public double[] Of(ReadOnlySpan<float> section)
    {
        Array.Clear(_sectionReal);
        Array.Clear(_sectionImaginary);
        for (int i = 0; i < section.Length; i++)
            _sectionReal[i] = section[i];
        _fourier.Forward(_sectionReal, _sectionImaginary);
        for (int k = 0; k < _real.Length; k++)
        {
            var product = new Complex(_real[k], _imaginary[k]) * new Complex(_sectionReal[k], -_sectionImaginary[k]);
            (_sectionReal[k], _sectionImaginary[k]) = (product.Real, product.Imaginary);
        }

        _fourier.Inverse(_sectionReal, _sectionImaginary);
        return Normalised(section);
    }

    /// <summary>The place that is most alike, whatever the sign.</summary>
    public static int Best(double[] alike)
    {
        int best = 0;
        for (int i = 1; i < alike.Length; i++)
        {
            if (Math.Abs(alike[i]) > Math.Abs(alike[best]))
                best = i;
        }

        return best;
    }

    private double[] Normalised(ReadOnlySpan<float> section)
    {
        double wanted = Products.Energy(section), here = Products.Energy(_within.AsSpan(0, section.Length));
        double least = 1e-9 * Math.Max(wanted, Products.Energy(_within) * section.Length / _within.Length);
        var result = new double[_within.Length - section.Length + 1];
        for (int place = 0; place < result.Length; place++)
        {
            if (here > least && wanted > 0)
                result[place] = _sectionReal[place] / _real.Length / Math.Sqrt(here * wanted);
            if (place + section.Length < _within.Length)
                here += (double)_within[place + section.Length] * _within[place + section.Length] - (double)_within[place] * _within[place];
        }

        return result;
    }
}
