using System.Numerics;

namespace Wergamon.Core.Audio.Resampling;

/// <summary>
/// Changes the sample rate by any rational factor in the frequency domain: a block is transformed, filtered, and transformed back at
/// another length (overlap-save; Oppenheim and Schafer, Discrete-Time Signal Processing, chapters 4, 7 and 8). The filter is a
/// Kaiser-windowed sinc: its pass band ends at 0.907 of the lower Nyquist frequency (20 kHz for 44.1 kHz), the stop band begins at that
/// frequency, 185 dB down. Linear phase, no delay: the first output sample is aligned with the first input sample.
/// </summary>
public sealed class ResamplingReader : IPcmReader
{
    private const double PassBand = 0.907;
    private const double StopBandDecibels = 185;

    /// <summary>A block is at least this many times as long as the filter is to one side: little of it overlaps.</summary>
    private const int MinBlockPerHalf = 24;

    private readonly FloatingInput _input;
    private readonly int _up;
    private readonly int _down;
    private readonly int _overlap;
    private readonly int _hop;
    /// <summary>Bins of negative frequency that both lengths have.</summary>
    private readonly int _negative;
    private readonly double[] _response;
    private readonly FourierTransform _forward;
    private readonly FourierTransform _back;
    private readonly double[][] _lines;
    private readonly double[] _real;
    private readonly double[] _imaginary;
    private readonly double[] _output;
    private int _filled;
    private int _inputAt;
    private int _inputFrames;
    private int _outputAt;
    private int _outputFrames;
    private long _framesIn;
    private long _framesOut;
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
        int half = (int)Math.Ceiling((StopBandDecibels - 7.95) / (14.36 * transition) / 2);
        _overlap = (half + _down - 1) / _down * _down;
        int steps = 1;
        while ((long)steps * _down < (long)MinBlockPerHalf * half || steps * _down < 4 * _overlap)
            steps *= 2;
        _forward = new FourierTransform(steps * _down);
        _back = new FourierTransform(steps * _up);
        _hop = _forward.Length - 2 * _overlap;
        _negative = (Math.Min(_forward.Length, _back.Length) - 1) / 2;
        _response = ResponseOf(half, bandLimit * (1 + PassBand) / 2);

        int channels = source.Format.Channels;
        _lines = [.. Enumerable.Range(0, channels).Select(_ => new double[_forward.Length])];
        int longest = Math.Max(_forward.Length, _back.Length);
        (_real, _imaginary) = (new double[longest], new double[longest]);
        _output = new double[_hop / _down * _up * channels];
        _filled = _overlap;
    }

    public PcmFormat Format { get; }

    public IReadOnlyList<string> Damage => _input.Source.Damage;

    /// <summary>Source frames times the ratio, rounded up, so that the whole source is covered.</summary>
    public long? FrameCount => _input.Source.FrameCount is { } frames ? OutputLength(frames) : null;

    public int Read(SampleBuffer block)
    {
        int channels = _lines.Length, made = 0;
        block.FrameCount = block.Capacity;
        while (made < block.Capacity)
        {
            if (_outputAt == _outputFrames && !NextBlock())
                break;
            int take = Math.Min(block.Capacity - made, _outputFrames - _outputAt);
            _output.AsSpan(_outputAt * channels, take * channels).CopyTo(block.Doubles[(made * channels)..]);
            _outputAt += take;
            made += take;
        }

        block.FrameCount = made;
        return made;
    }

    public void Dispose() => _input.Dispose();

    private long OutputLength(long inputFrames) => (inputFrames * _up + _down - 1) / _down;

    /// <summary>Makes the next stretch of output; false at the end.</summary>
    private bool NextBlock()
    {
        Fill();
        _outputAt = 0;
        _outputFrames = _hop / _down * _up;
        if (_ended)
            _outputFrames = (int)Math.Min(_outputFrames, OutputLength(_framesIn) - _framesOut);
        if (_outputFrames <= 0)
        {
            _outputFrames = 0;
            return false;
        }

        // Two channels at once, as the two parts of a complex signal: the filter is real and treats both alike.
        for (int channel = 0; channel < _lines.Length; channel += 2)
            Convert(channel, channel + 1 < _lines.Length ? channel + 1 : null);
        _framesOut += _outputFrames;
        foreach (var line in _lines)
            line.AsSpan(_hop).CopyTo(line);
        _filled -= _hop;
        return true;
    }

    /// <summary>Fills the block with input, and with silence behind its end.</summary>
    private void Fill()
    {
        int channels = _lines.Length;
        while (_filled < _forward.Length)
        {
            if (_inputAt == _inputFrames && !_ended)
            {
                _inputAt = 0;
                _inputFrames = _input.Read();
                _framesIn += _inputFrames;
                _ended = _inputFrames == 0;
            }

            if (_ended)
            {
                foreach (var line in _lines)
                    line.AsSpan(_filled).Clear();
                _filled = _forward.Length;
                return;
            }

            int take = Math.Min(_forward.Length - _filled, _inputFrames - _inputAt);
            var from = _input.Samples.Slice(_inputAt * channels, take * channels);
            for (int channel = 0; channel < channels; channel++)
            {
                var line = _lines[channel].AsSpan(_filled, take);
                for (int i = 0, at = channel; i < line.Length; i++, at += channels)
                    line[i] = from[at];
            }

            _inputAt += take;
            _filled += take;
        }
    }

    private void Convert(int first, int? second)
    {
        int from = _forward.Length, to = _back.Length, channels = _lines.Length;
        _lines[first].CopyTo(_real, 0);
        if (second is { } other)
            _lines[other].CopyTo(_imaginary, 0);
        else
            Array.Clear(_imaginary, 0, from);
        _forward.Forward(_real, _imaginary);
        Filter(_real, from, to);
        Filter(_imaginary, from, to);
        _back.Inverse(_real, _imaginary);
        int start = _overlap / _down * _up;
        for (int i = 0, at = first; i < _outputFrames; i++, at += channels)
        {
            _output[at] = _real[start + i];
            if (second is not null)
                _output[at + 1] = _imaginary[start + i];
        }
    }

    /// <summary>Moves the negative frequencies to the end of the new length and weighs all bins.</summary>
    private void Filter(double[] bins, int from, int to)
    {
        bins.AsSpan(from - _negative, _negative).CopyTo(bins.AsSpan(to - _negative));
        int bin = 0;
        for (int width = Vector<double>.Count; bin <= to - width; bin += width)
            (new Vector<double>(bins, bin) * new Vector<double>(_response, bin)).CopyTo(bins, bin);
        for (; bin < to; bin++)
            bins[bin] *= _response[bin];
    }

    /// <summary>
    /// The response of the filter at the bins of the new length, scaled for both transforms; 0 above the lower Nyquist frequency.
    /// </summary>
    private double[] ResponseOf(int half, double cutOff)
    {
        int length = _forward.Length;
        var window = new KaiserWindow(StopBandDecibels);
        var (kernel, nothing) = (new double[length], new double[length]);
        double sum = 0;
        for (int n = -half; n <= half; n++)
        {
            double value = cutOff * Sinc(cutOff * n) * window.At((double)n / half);
            kernel[n < 0 ? n + length : n] = value;
            sum += value;
        }

        _forward.Forward(kernel, nothing);
        var response = new double[_back.Length];
        response[0] = kernel[0] / sum / length;
        for (int bin = 1; bin <= _negative; bin++)
            response[bin] = response[^bin] = kernel[bin] / sum / length;
        return response;
    }

    private static double Sinc(double x) => Math.Abs(x) < 1e-12 ? 1 : Math.Sin(Math.PI * x) / (Math.PI * x);
}
