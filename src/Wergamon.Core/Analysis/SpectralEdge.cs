using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Resampling;

namespace Wergamon.Core.Analysis;

/// <summary>
/// Finds out whether a signal above 48 kHz needs its sample rate. One that was upsampled has nothing but
/// the converter's noise floor above the old limit, seen in the peak spectrum of many short sections.
/// </summary>
/// <remarks>The thresholds are ours: no source.</remarks>
internal sealed class SpectralEdge
{
    private const int Length = 4096;

    /// <summary>Distance between sections: a tenth of the signal is examined.</summary>
    private const int Every = 10 * Length;

    /// <summary>Anything this far below the strongest frequency counts as noise floor.</summary>
    private const double FloorDecibels = -115;

    /// <summary>The window leaks less than the noise floor, so that a full top end does not look wider than it is.</summary>
    private const double WindowDecibels = 140;

    /// <summary>Margin for the transition bands of the converter and of this window.</summary>
    private const double Overhang = 1.02;

    private static readonly int[] UsualRates = [44_100, 48_000, 88_200, 96_000, 176_400, 192_000];

    private readonly PcmFormat _format;
    private readonly int[] _lowerRates;
    private readonly FourierTransform? _fourier;
    private readonly double[] _window = [];
    private readonly SpacedWindows? _windows;
    private readonly double[] _imaginary = new double[Length];
    private readonly double[] _greatest = new double[Length / 2];

    public SpectralEdge(PcmFormat format)
    {
        _format = format;
        _lowerRates = [.. UsualRates.Where(rate => rate < format.Rate.Hertz)];
        // Up to 48 kHz a missing top end has too many causes to say anything about the rate.
        if (format.Rate.Hertz <= 48_000)
            return;
        _fourier = new FourierTransform(Length);
        _windows = new SpacedWindows(format.Channels, Length, Every, 1, TakeStretch);
        _window = KaiserWindow.Of(Length, WindowDecibels);
    }

    /// <param name="samples">Whole frames, interleaved.</param>
    public void Append(ReadOnlySpan<float> samples) => _windows?.Append(samples);

    /// <summary>Lowest common rate that holds the spectrum; the signal's own rate when none lower does.</summary>
    public int RealRate()
    {
        double strongest = _greatest.Max();
        if (_fourier is null || strongest == 0)
            return _format.Rate.Hertz;
        double floor = strongest * Math.Pow(10, FloorDecibels / 20);
        int top = Array.FindLastIndex(_greatest, magnitude => magnitude > floor);
        double edge = (top + 1.0) * _format.Rate.Hertz / Length;
        int real = _lowerRates.FirstOrDefault(rate => edge <= Overhang * rate / 2);
        return real == 0 ? _format.Rate.Hertz : real;
    }

    private void TakeStretch(double[] stretch)
    {
        for (int i = 0; i < Length; i++)
            stretch[i] *= _window[i];
        Array.Clear(_imaginary);
        _fourier!.Forward(stretch, _imaginary);
        for (int bin = 0; bin < _greatest.Length; bin++)
            _greatest[bin] = Math.Max(_greatest[bin], Math.Sqrt(stretch[bin] * stretch[bin] + _imaginary[bin] * _imaginary[bin]));
    }
}
