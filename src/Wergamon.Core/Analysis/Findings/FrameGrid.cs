using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis.Findings;

/// <summary>
/// Looks for the steps in which MPEG layer III codes sound: 576 samples each. Bands near the cut-off come and go from step to step, so
/// that their mean level depends on the place within a step; in music that was never coded it does not.
/// </summary>
/// <remarks>Our own measurement, tried on several encoders: no source.</remarks>
internal sealed class FrameGrid(PcmFormat format) : ISoundProbe
{
    /// <summary>Standard errors by which a mean has to be off.</summary>
    public const double MinStrength = 4;

    private const int Step = 576, Places = 12, Hop = Step / Places, Window = 192, BandBins = 7, MinSteps = 200, MaxSeconds = 150;

    private const double SilenceEnergy = 1e-5;

    private readonly FourierTransform _fourier = new(Window);
    private readonly double[] _shape = [.. Enumerable.Range(0, Window).Select(i => 0.5 - 0.5 * Math.Cos(2 * Math.PI * i / Window))];
    private readonly double[] _real = new double[Window], _imaginary = new double[Window];
    private readonly float[] _ring = new float[Window + Step];
    private readonly double[,] _sums = new double[Bands, Places], _squares = new double[Bands, Places];
    private readonly double[,] _levels = new double[Bands, Places];
    /// <summary>Energies up to each bin.</summary>
    private readonly double[] _firsts = new double[Bands + 1], _seconds = new double[Bands + 1];

    private int _held;
    private long _steps, _frames;

    /// <summary>Bands that end at each bin of the transform.</summary>
    private const int Bands = Window / 2;

    public void Append(ReadOnlySpan<float> samples)
    {
        for (int at = 0; at < samples.Length && _frames < (long)MaxSeconds * format.Rate.Hertz; at += format.Channels, _frames++)
        {
            _ring[_held++] = (float)SpacedWindows.Mix(samples.Slice(at, format.Channels), TopEdge.NextWeight);
            if (_held == _ring.Length)
            {
                TakeStep();
                _ring.AsSpan(Step).CopyTo(_ring);
                _held = Window;
            }
        }
    }

    public IEnumerable<Finding> Findings() => [];

    /// <summary>How far the level below a frequency depends on the place within a step, in standard errors.</summary>
    public double Strength(double hertz)
    {
        int band = (int)((hertz - 300) / ((double)format.Rate.Hertz / Window));
        if (_steps < MinSteps || band is < BandBins or >= Bands)
            return 0;
        double strongest = 0;
        for (int place = 0; place < Places; place++)
        {
            double mean = _sums[band, place] / _steps, variance = _squares[band, place] / _steps - mean * mean;
            if (variance > 0)
                strongest = Math.Max(strongest, Math.Abs(mean) / Math.Sqrt(variance / _steps));
        }

        return strongest;
    }

    private void TakeStep()
    {
        for (int place = 0; place < Places; place += 2)
        {
            // Two windows in one transform, as real and imaginary part.
            double energy = 0;
            for (int i = 0; i < Window; i++)
            {
                _real[i] = _shape[i] * _ring[place * Hop + i];
                _imaginary[i] = _shape[i] * _ring[(place + 1) * Hop + i];
                energy += _real[i] * _real[i];
            }

            if (energy < SilenceEnergy)
                return;
            _fourier.Forward(_real, _imaginary);
            double first = 0, second = 0;
            for (int k = 0; k < Bands; k++)
            {
                int mirrored = (Window - k) % Window;
                double evenReal = _real[k] + _real[mirrored], evenImaginary = _imaginary[k] - _imaginary[mirrored];
                double oddReal = _imaginary[k] + _imaginary[mirrored], oddImaginary = _real[mirrored] - _real[k];
                _firsts[k + 1] = first += evenReal * evenReal + evenImaginary * evenImaginary;
                _seconds[k + 1] = second += oddReal * oddReal + oddImaginary * oddImaginary;
                if (k < BandBins)
                    continue;
                _levels[k, place] = Math.Log10(_firsts[k + 1] - _firsts[k + 1 - BandBins] + 1e-14);
                _levels[k, place + 1] = Math.Log10(_seconds[k + 1] - _seconds[k + 1 - BandBins] + 1e-14);
            }
        }

        _steps++;
        for (int band = BandBins; band < Bands; band++)
        {
            double mean = 0;
            for (int place = 0; place < Places; place++)
                mean += _levels[band, place] / Places;
            for (int place = 0; place < Places; place++)
            {
                double off = _levels[band, place] - mean;
                _sums[band, place] += off;
                _squares[band, place] += off * off;
            }
        }
    }
}
