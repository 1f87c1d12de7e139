using System.Numerics;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>Delay of one section against another within a sample or two, from the slope of the phase of their cross-spectrum.</summary>
internal sealed class PhaseDelay
{
    private const int MaxLength = 8192, Rounds = 4;

    private readonly int _length;
    private readonly FourierTransform _fourier;
    private readonly double[] _real, _imaginary, _window;

    /// <param name="frames">Frames of the shortest section.</param>
    public PhaseDelay(int frames)
    {
        _length = MaxLength;
        while (_length > frames)
            _length /= 2;
        _fourier = new FourierTransform(_length);
        (_real, _imaginary) = (new double[_length], new double[_length]);
        _window = [.. Enumerable.Range(0, _length).Select(i => 0.5 - 0.5 * Math.Cos(2 * Math.PI * i / _length))];
    }

    /// <summary>The cross-spectrum of two sections that are aligned except for a small delay.</summary>
    public Complex[] CrossSpectrum(ReadOnlySpan<float> one, ReadOnlySpan<float> other)
    {
        var cross = new Complex[_length / 2];
        for (int at = 0; at + _length <= one.Length; at += _length)
        {
            for (int i = 0; i < _length; i++)
            {
                _real[i] = _window[i] * one[at + i];
                _imaginary[i] = _window[i] * other[at + i];
            }

            _fourier.Forward(_real, _imaginary);
            for (int k = 1; k < cross.Length; k++)
            {
                var (whole, mirrored) = (new Complex(_real[k], _imaginary[k]), new Complex(_real[_length - k], -_imaginary[_length - k]));
                cross[k] += (whole + mirrored) * Complex.Conjugate((whole - mirrored) / Complex.ImaginaryOne);
            }
        }

        return cross;
    }

    /// <summary>Frames by which the second is late; 0 when both are equal.</summary>
    /// <param name="cross">Of one or more sections, added up.</param>
    /// <param name="isReversed">True when the second has the opposite polarity.</param>
    public double Delay(ReadOnlySpan<Complex> cross, bool isReversed)
    {
        double delay = 0, sign = isReversed ? -1 : 1;
        for (int round = 0; round < Rounds; round++)
        {
            double slope = 0, weights = 0;
            for (int k = 1; k < cross.Length; k++)
            {
                double angle = 2 * Math.PI * k / _length;
                var left = sign * cross[k] * Complex.FromPolarCoordinates(1, -angle * delay);
                double weight = left.Magnitude;
                slope += weight * angle * left.Phase;
                weights += weight * angle * angle;
            }

            if (weights == 0 || slope == 0)
                break;
            delay += slope / weights;
        }

        return delay;
    }
}
