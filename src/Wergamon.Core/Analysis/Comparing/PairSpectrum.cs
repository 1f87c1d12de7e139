using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Resampling;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>
/// Mean power spectra of two signals and of their residue over a stretch (Welch, 1967): many windows at even distances. Both go through
/// one transform, as real and imaginary part; the residue is the difference of their spectra.
/// </summary>
public sealed class PairSpectrum
{
    /// <summary>Frames of a window.</summary>
    public const int Length = 8192;

    private const double WindowDecibels = 100;

    private static readonly double[] Window = KaiserWindow.Of(Length, WindowDecibels);
    private static readonly double Power = Window.Sum(value => value * value), Gain = Window.Sum();

    private readonly double[][] _sums = [new double[Length / 2 + 1], new double[Length / 2 + 1], new double[Length / 2 + 1]];
    private readonly FourierTransform _fourier = new(Length);
    private readonly double[] _real = new double[Length], _imaginary = new double[Length];
    private readonly int _rate;
    private long _windows;

    private PairSpectrum(int rate) => _rate = rate;

    /// <summary>Frequencies from one bin to the next, in hertz.</summary>
    public double BinHertz => (double)_rate / Length;

    /// <param name="from">First frame of the stretch.</param>
    /// <param name="frames">A stretch shorter than a window is taken with silence after it.</param>
    /// <param name="maxWindows">Windows for each channel.</param>
    public static PairSpectrum Of(AlignedSound sound, long from, long frames, int maxWindows)
    {
        var spectrum = new PairSpectrum(sound.Rate.Hertz);
        long places = Math.Max(1, Math.Min(maxWindows, 2 * frames / Length - 1));
        double step = places == 1 ? 0 : (double)(frames - Length) / (places - 1);
        var (first, second) = (new float[Length * sound.Channels], new float[Length * sound.Channels]);
        for (int place = 0; place < places; place++)
        {
            long start = from + (long)(place * step);
            int length = (int)Math.Min(Length, from + frames - start);
            ReadWindow(sound, start, length, first, second);
            for (int channel = 0; channel < sound.Channels; channel++)
                spectrum.Add(first, second, channel, sound.Channels);
        }

        return spectrum;
    }

    /// <summary>Mean square of a signal, summed over all frequencies (Parseval's theorem); the mean of all channels.</summary>
    public double MeanSquare(ComparedSignal signal)
    {
        double sum = 0;
        foreach (double power in _sums[(int)signal])
            sum += power;
        return Scaled(sum);
    }

    /// <summary>Mean square between two frequencies.</summary>
    public double MeanSquare(ComparedSignal signal, double fromHertz, double toHertz)
    {
        double sum = 0;
        var sums = _sums[(int)signal];
        for (int k = (int)Math.Ceiling(fromHertz / BinHertz); k < sums.Length && k * BinHertz < toHertz; k++)
            sum += sums[k];
        return Scaled(sum);
    }

    /// <summary>Levels in bands of equal width on a logarithmic scale, in dB; a sine at full scale has 0 dB in its band.</summary>
    /// <param name="edges">Frequencies in hertz, rising; one more than there are bands.</param>
    public double[] Levels(ComparedSignal signal, IReadOnlyList<double> edges)
    {
        var levels = new double[edges.Count - 1];
        for (int band = 0; band < levels.Length; band++)
        {
            int first = (int)Math.Ceiling(edges[band] / BinHertz), end = (int)Math.Ceiling(edges[band + 1] / BinHertz);
            double greatest = 0;
            for (int k = Math.Max(1, first == end ? first - 1 : first);
            k < Math.Max(end, first + (first == end ? 0 : 1)) && k < _sums[0].Length; k++)
                greatest = Math.Max(greatest, _sums[(int)signal][k]);
            levels[band] = Level(greatest);
        }

        return levels;
    }

    /// <summary>Level of one bin, in dB as in <see cref="Levels"/>.</summary>
    public double LevelAt(ComparedSignal signal, int bin) => Level(_sums[(int)signal][bin]);

    public int Bins => _sums[0].Length;

    /// <summary>
    /// The highest frequency at which a signal is well above the noise of 16 bits and less than 90 dB below its strongest; 0 for silence.
    /// </summary>
    public double TopEnd(ComparedSignal signal)
    {
        const double NoiseDecibels = -122, RangeDecibels = 90;
        var sums = _sums[(int)signal];
        double least = Math.Max(NoiseDecibels, Level(sums.Max()) - RangeDecibels);
        int top = Array.FindLastIndex(sums, power => Level(power) > least);
        return top < 0 ? 0 : Math.Min(top + 1, sums.Length - 1) * BinHertz;
    }

    /// <summary>The narrowest range of frequencies that holds a share of the energy, counted in octaves.</summary>
    /// <param name="share">From 0 to 1.</param>
    public (double FromHertz, double ToHertz) WhereMostLies(ComparedSignal signal, double share)
    {
        var sums = _sums[(int)signal];
        double wanted = share * sums.Sum(), sum = 0;
        var best = (From: 1, To: sums.Length - 1);
        double narrowest = double.MaxValue;
        for (int from = 1, to = 1; from < sums.Length; from++)
        {
            while (to < sums.Length && sum < wanted)
                sum += sums[to++];
            if (sum < wanted)
                break;
            double octaves = Math.Log2((double)to / from);
            if (octaves < narrowest)
                (narrowest, best) = (octaves, (from, to));
            sum -= sums[from];
        }

        return (best.From * BinHertz, Math.Min(best.To, sums.Length - 1) * BinHertz);
    }

    private double Scaled(double sum) => _windows == 0 ? 0 : sum / _windows / Length / Power;

    /// <summary>The sums hold both halves of the spectrum in one: a sine of amplitude 1 has half the square of the window's gain.</summary>
    private double Level(double sum) =>
        _windows == 0 || sum <= 0 ? -200 : Math.Max(-200, 10 * Math.Log10(sum / _windows / (Gain * Gain / 2)));

    private static void ReadWindow(AlignedSound sound, long start, int length, float[] first, float[] second)
    {
        Array.Clear(first);
        Array.Clear(second);
        for (int at = 0; at < length; at += AlignedSound.BlockFrames)
        {
            sound.Read(start + at, Math.Min(AlignedSound.BlockFrames, length - at));
            sound.First.CopyTo(first.AsSpan(at * sound.Channels));
            sound.Matched.CopyTo(second.AsSpan(at * sound.Channels));
        }
    }

    private void Add(float[] first, float[] second, int channel, int channels)
    {
        double[] real = _real, imaginary = _imaginary, window = Window;
        for (int i = 0, at = channel; i < real.Length; i++, at += channels)
        {
            real[i] = window[i] * first[at];
            imaginary[i] = window[i] * second[at];
        }

        _fourier.Forward(real, imaginary);
        double[] firsts = _sums[0], seconds = _sums[1], residues = _sums[2];
        // The first and the last bin stand for themselves, all others for two.
        AddBin(0, 0, 0.25);
        AddBin(Length / 2, Length / 2, 0.25);
        for (int k = 1, mirrored = Length - 1; k < mirrored; k++, mirrored--)
            AddBin(k, mirrored, 0.5);
        _windows++;

        // The spectrum of a real signal mirrors itself, that of an imaginary one with the opposite sign: sum and difference part the two.
        void AddBin(int k, int mirrored, double share)
        {
            double firstReal = real[k] + real[mirrored], firstImaginary = imaginary[k] - imaginary[mirrored];
            double secondReal = imaginary[k] + imaginary[mirrored], secondImaginary = real[mirrored] - real[k];
            double residueReal = firstReal - secondReal, residueImaginary = firstImaginary - secondImaginary;
            firsts[k] += share * (firstReal * firstReal + firstImaginary * firstImaginary);
            seconds[k] += share * (secondReal * secondReal + secondImaginary * secondImaginary);
            residues[k] += share * (residueReal * residueReal + residueImaginary * residueImaginary);
        }
    }
}
