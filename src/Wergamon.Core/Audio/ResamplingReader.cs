using System.Numerics;
using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;

namespace Wergamon.Core.Audio;

/// <summary>
/// Changes the sample rate by a rational factor with a polyphase Kaiser-windowed sinc filter (Oppenheim and Schafer,
/// Discrete-Time Signal Processing, chapters 4 and 7). The pass band ends at 0.907 of the lower Nyquist frequency
/// (20 kHz for 44.1 kHz), the stop band begins at that frequency, 185 dB down. Linear phase, no delay: the first
/// output sample is aligned with the first input sample.
/// </summary>
public sealed class ResamplingReader : IPcmReader
{
    private const double PassBand = 0.907;
    private const double StopBandDecibels = 185;

    /// <summary>Maximum size of the coefficient table; odd rates then use the nearest of fewer phases.</summary>
    private const int MaxCoefficients = 4_000_000;

    private readonly FloatingInput _input;
    private readonly int _up;
    private readonly int _down;
    private readonly int _half;
    private readonly double[][] _phases;
    private readonly double[][] _history;
    private int _held;
    private long _historyStart;
    private long _inputFrames;
    private long _outputFrames;
    private bool _ended;

    /// <param name="source">Sound at any rate.</param>
    /// <param name="rate">The rate wanted.</param>
    public ResamplingReader(IPcmReader source, SampleRate rate)
    {
        _input = new FloatingInput(source);
        Format = FloatingInput.Floating(source.Format) with { Rate = rate };
        int common = (int)BigInteger.GreatestCommonDivisor(source.Format.Rate.Hertz, rate.Hertz);
        _up = rate.Hertz / common;
        _down = source.Format.Rate.Hertz / common;

        double bandLimit = Math.Min(1.0, (double)_up / _down);
        double transition = (1 - PassBand) * bandLimit / 2;
        _half = (int)Math.Ceiling((StopBandDecibels - 7.95) / (14.36 * transition) / 2);
        // Whole steps of the convolution, in 512-bit vectors.
        _half = (_half + 15) / 16 * 16;
        _phases = BuildPhases(_half, Math.Min(_up, MaxCoefficients / (2 * _half)), bandLimit * (1 + PassBand) / 2);

        _history = new double[source.Format.Channels][];
        for (int c = 0; c < _history.Length; c++)
            _history[c] = new double[2 * _half + SampleBuffer.DefaultCapacity];
        _historyStart = -(_half - 1);
        _held = _half - 1;
    }

    public PcmFormat Format { get; }

    public IReadOnlyList<string> Damage => _input.Source.Damage;

    /// <summary>Source frames times the ratio, rounded up, so that the whole source is covered.</summary>
    public long? FrameCount => _input.Source.FrameCount is { } frames ? OutputLength(frames) : null;

    public int Read(SampleBuffer block)
    {
        int channels = _history.Length;
        int made = 0;
        block.FrameCount = block.Capacity;
        var output = block.Doubles;
        while (made < block.Capacity)
        {
            long position = _outputFrames * _down;
            long whole = position / _up;
            if (_ended && _outputFrames >= OutputLength(_inputFrames))
                break;
            int start = (int)(whole - (_half - 1) - _historyStart);
            if (start + 2 * _half > _held)
            {
                Refill(start);
                continue;
            }

            var kernel = _phases[(int)((position % _up) * _phases.Length / _up)];
            for (int c = 0; c < channels; c++)
                output[made * channels + c] = Convolve(kernel, _history[c].AsSpan(start, kernel.Length));
            made++;
            _outputFrames++;
        }

        block.FrameCount = made;
        return made;
    }

    public void Dispose() => _input.Dispose();

    private long OutputLength(long inputFrames) => (inputFrames * _up + _down - 1) / _down;

    /// <summary>Drops input that no later output needs, then appends the next block, or silence after the end.</summary>
    private void Refill(int drop)
    {
        drop = Math.Min(drop, _held);
        foreach (var line in _history)
            line.AsSpan(drop, _held - drop).CopyTo(line);
        _held -= drop;
        _historyStart += drop;

        int frames = _ended ? 0 : _input.Read();
        if (frames == 0)
        {
            _ended = true;
            frames = Math.Min(SampleBuffer.DefaultCapacity, _history[0].Length - _held);
            foreach (var line in _history)
                line.AsSpan(_held, frames).Clear();
        }
        else
        {
            _inputFrames += frames;
            var from = _input.Samples;
            for (int c = 0; c < _history.Length; c++)
            {
                var line = _history[c].AsSpan(_held, frames);
                for (int i = 0, at = c; i < line.Length; i++, at += _history.Length)
                    line[i] = from[at];
            }
        }

        _held += frames;
    }

    /// <summary>Four independent sums, since a single one would stall on its own result.</summary>
    private static double Convolve(double[] kernel, ReadOnlySpan<double> samples)
    {
        int width = Vector512<double>.Count, length = Math.Min(kernel.Length, samples.Length);
        ref double k = ref MemoryMarshal.GetArrayDataReference(kernel);
        ref double s = ref MemoryMarshal.GetReference(samples);
        var (first, second, third, fourth) = (Vector512<double>.Zero, Vector512<double>.Zero, Vector512<double>.Zero, Vector512<double>.Zero);
        int i = 0;
        for (; i <= length - 4 * width; i += 4 * width)
        {
            first = Vector512.FusedMultiplyAdd(Vector512.LoadUnsafe(ref k, (nuint)i), Vector512.LoadUnsafe(ref s, (nuint)i), first);
            second = Vector512.FusedMultiplyAdd(Vector512.LoadUnsafe(ref k, (nuint)(i + width)), Vector512.LoadUnsafe(ref s, (nuint)(i + width)), second);
            third = Vector512.FusedMultiplyAdd(Vector512.LoadUnsafe(ref k, (nuint)(i + 2 * width)), Vector512.LoadUnsafe(ref s, (nuint)(i + 2 * width)), third);
            fourth = Vector512.FusedMultiplyAdd(Vector512.LoadUnsafe(ref k, (nuint)(i + 3 * width)), Vector512.LoadUnsafe(ref s, (nuint)(i + 3 * width)), fourth);
        }

        double sum = Vector512.Sum(first + second + (third + fourth));
        for (; i < length; i++)
            sum += kernel[i] * samples[i];
        return sum;
    }

    private static double[][] BuildPhases(int half, int count, double cutOff)
    {
        var phases = new double[count][];
        var window = new KaiserWindow(StopBandDecibels);
        for (int p = 0; p < count; p++)
        {
            var kernel = new double[2 * half];
            double sum = 0;
            for (int k = 0; k < kernel.Length; k++)
            {
                double x = k - (half - 1) - (double)p / count;
                kernel[k] = cutOff * Sinc(cutOff * x) * window.At(x / half);
                sum += kernel[k];
            }

            // Normalises each phase to unity gain at DC; without it the phases would ripple by the window's residue.
            for (int k = 0; k < kernel.Length; k++)
                kernel[k] /= sum;
            phases[p] = kernel;
        }

        return phases;
    }

    private static double Sinc(double x) => Math.Abs(x) < 1e-12 ? 1 : Math.Sin(Math.PI * x) / (Math.PI * x);
}
