using System.Globalization;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Resampling;

namespace Wergamon.Core.Analysis.Findings;

/// <summary>
/// Finds a frequency at which the spectrum stops, and whether lossy encoders stop there. A brick wall in the spectrum has many causes; the
/// places are those of common encoders, and a frame grid in the sound makes it certain.
/// </summary>
/// <remarks>
/// Places and thresholds are measured on encoders and on music: no source. Below 128 kbit/s encoders cut where broadcasts and sample rates
/// of
/// 32 kHz do as well; there only the grid tells.
/// </remarks>
internal sealed class TopEdge : ISoundProbe
{
    private const int Length = 4096, StepsPerSecond = 8, MinWindows = 12;

    /// <summary>Each channel counts less than the one before, so that opposite polarity in two of them does not leave silence.</summary>
    internal const float NextWeight = 0.7f;

    private const double WindowDecibels = 100, MinLevelDecibels = -55;

    /// <summary>What counts as a brick wall: the fall within about a kilohertz, and how little is left above it.</summary>
    private const double MinDrop = 30, FloorBelowStrongest = 75;

    private const double LowestEdge = 9_000, Tolerance = 130;

    /// <summary>Where encoders cut, with the bitrates at which they do.</summary>
    private static readonly (double Hertz, string Encoding)[] Encoders =
    [
        (16_800, "128 kbit/s"), (17_450, "160 kbit/s"), (18_900, "192 kbit/s"), (19_550, "224 to 256 kbit/s"), (20_200, "320 kbit/s"),
        (20_450, "any bitrate of a full-band codec"),
    ];

    private readonly PcmFormat _format;
    private readonly FourierTransform _fourier = new(Length);
    private readonly SpacedWindows _spaced;
    private readonly double[] _window = KaiserWindow.Of(Length, WindowDecibels), _imaginary = new double[Length];
    private readonly double[] _sums = new double[Length / 2];
    private readonly FrameGrid _grid;
    private readonly double _gain;
    private int _windows;

    public TopEdge(PcmFormat format)
    {
        _format = format;
        _grid = new FrameGrid(format);
        _spaced = new SpacedWindows(format.Channels, Length, Math.Max(Length, format.Rate.Hertz / StepsPerSecond), NextWeight, Take);
        _gain = _window.Sum();
    }

    private double BinHertz => (double)_format.Rate.Hertz / Length;

    public void Append(ReadOnlySpan<float> samples)
    {
        _grid.Append(samples);
        _spaced.Append(samples);
    }

    public IEnumerable<Finding> Findings()
    {
        if (_windows < MinWindows || FindEdge() is not { } edge)
            yield break;
        var hertz = string.Create(CultureInfo.InvariantCulture, $"{edge.Hertz / 1000:0.0} kHz");
        var measured = string.Create(
            CultureInfo.InvariantCulture, $"The spectrum falls by {edge.Drop:0} dB within a kilohertz at {hertz}, and nothing is above.");
        var near = Encoders.Where(encoder => Math.Abs(encoder.Hertz - edge.Hertz) < Tolerance)
            .OrderBy(encoder => Math.Abs(encoder.Hertz - edge.Hertz))
            .Select(encoder => encoder.Encoding)
            .FirstOrDefault();
        double grid = _grid.Strength(edge.Hertz);
        if (grid >= FrameGrid.MinStrength)
        {
            yield return new Finding(
                FindingKind.LossyAncestor, Sureness.Certain, measured,
                string.Create(
                    CultureInfo.InvariantCulture,
                    $"Just below the edge the audio changes in steps of 576 samples, as in MPEG layer "
                        + $"III{(near is null ? "" : $"; encoders at {near} cut there")}."))
            { Hertz = edge.Hertz };
        }
        else if (near is not null)
        {
            yield return new Finding(
                FindingKind.LossyAncestor, Sureness.Likely, measured,
                $"Lossy encoders at {near} cut there. Their coding steps were not found, so it could be a filter at the same frequency.")
            { Hertz = edge.Hertz };
        }
        else
        {
            yield return new Finding(
                FindingKind.LowPassed, Sureness.Unsure, measured,
                "No common encoder cuts there: a filter, a lower sample rate or a broadcast can be the reason.")
            { Hertz = edge.Hertz };
        }
    }

    /// <summary>Mean levels in bands; empty for silence.</summary>
    public double[] Levels(IReadOnlyList<double> edges)
    {
        if (_windows == 0)
            return [];
        var levels = new double[edges.Count - 1];
        for (int band = 0; band < levels.Length; band++)
        {
            int first = Math.Clamp((int)Math.Ceiling(edges[band] / BinHertz), 1, _sums.Length - 1),
                end = Math.Clamp((int)Math.Ceiling(edges[band + 1] / BinHertz), first + 1, _sums.Length);
            levels[band] = Math.Round(LevelOf(_sums.AsSpan(first, end - first).ToArray().Max()), 1);
        }

        return levels;
    }

    private void Take(double[] mono)
    {
        double energy = 0;
        for (int i = 0; i < Length; i++)
        {
            energy += mono[i] * mono[i];
            mono[i] *= _window[i];
        }

        if (energy <= Length * Math.Pow(10, MinLevelDecibels / 10))
            return;
        Array.Clear(_imaginary);
        _fourier.Forward(mono, _imaginary);
        for (int k = 0; k < _sums.Length; k++)
            _sums[k] += mono[k] * mono[k] + _imaginary[k] * _imaginary[k];
        _windows++;
    }

    /// <summary>The steepest fall, if there is a brick wall: loud below, nothing above.</summary>
    private (double Hertz, double Drop)? FindEdge()
    {
        var levels = Array.ConvertAll(_sums, LevelOf);
        double top = _format.Rate.Hertz / 2.0, strongest = levels.Max();
        (double Hertz, double Drop) best = (0, 0);
        for (double hertz = LowestEdge; hertz < Math.Min(top * 0.97, top - 700); hertz += 50)
        {
            double drop = Mean(hertz - 1200, hertz - 250) - Mean(hertz + 250, hertz + 900);
            if (drop > best.Drop)
                best = (hertz, drop);
        }

        if (best.Drop < MinDrop)
            return null;
        double rest = Enumerable.Range(0, levels.Length)
            .Where(k => k * BinHertz > best.Hertz + 500 && k * BinHertz < top - 100)
            .Select(k => levels[k])
            .DefaultIfEmpty(-200)
            .Max();
        return rest < strongest - FloorBelowStrongest ? best : null;

        double Mean(double from, double to)
        {
            double sum = 0;
            int count = 0;
            for (int k = (int)(from / BinHertz); k < to / BinHertz && k < levels.Length; k++, count++)
                sum += levels[k];
            return count == 0 ? -200 : sum / count;
        }
    }

    private double LevelOf(double sum) => sum <= 0 ? -200 : Math.Max(-200, 10 * Math.Log10(sum / _windows / (_gain * _gain / 4)));
}
