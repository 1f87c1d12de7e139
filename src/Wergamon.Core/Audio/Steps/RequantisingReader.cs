namespace Wergamon.Core.Audio.Steps;

/// <summary>
/// Requantises floats or wider integers to fewer bits. Triangular dither, two steps wide (TPDF),
/// turns rounding distortion into noise (Lipshitz, Wannamaker and Vanderkooy, Quantization and Dither:
/// A Theoretical Analysis, JAES 40/5, 1992). Samples beyond full scale are clipped and counted.
/// </summary>
public sealed class RequantisingReader : IPcmReader
{
    /// <summary>Of rounding with triangular dither, in steps.</summary>
    private const double MaxError = 1.5;

    private readonly FloatingInput _input;
    private readonly Dither _dither;
    private readonly double[] _weights;

    /// <summary>Errors of the last samples of each channel, the latest first.</summary>
    private readonly double[] _errors;

    private readonly double _scale;
    private ulong _random;

    /// <param name="source">Sound of any kind.</param>
    /// <param name="bits">Bits wanted, 8 to 32.</param>
    /// <param name="seed">The same seed gives the same dither, so that a conversion is repeatable.</param>
    public RequantisingReader(IPcmReader source, int bits, Dither dither = Dither.Triangular, ulong seed = 1)
    {
        _input = new FloatingInput(source);
        _dither = dither;
        _weights = dither == Dither.Shaped ? [.. NoiseShaping.Weights(source.Format.Rate)] : [];
        _errors = new double[_weights.Length * source.Format.Channels];
        _random = seed | 1;
        _scale = 1L << (bits - 1);
        Format = source.Format with { Bits = bits, Kind = SampleKind.Integer };
    }

    public PcmFormat Format { get; }

    public long? FrameCount => _input.Source.FrameCount;

    public IReadOnlyList<string> Damage => _input.Source.Damage;

    /// <summary>Samples clipped so far.</summary>
    public long ClippedSamples { get; private set; }

    public int Read(SampleBuffer block)
    {
        int frames = _input.Read();
        block.FrameCount = frames;
        var from = _input.Samples;
        var to = block.Integers;
        for (int i = 0; i < from.Length; i++)
            to[i] = _weights.Length == 0 ? Quantise(from[i] * _scale) : QuantiseShaped(from[i] * _scale, i % Format.Channels);
        return frames;
    }

    public void Dispose() => _input.Dispose();

    private int Quantise(double value)
    {
        double rounded = Math.Round(_dither == Dither.None ? value : value + NextUniform() - NextUniform());
        if (rounded < _scale && rounded >= -_scale)
            return (int)rounded;
        ClippedSamples++;
        return (int)Math.Clamp(rounded, -_scale, _scale - 1);
    }

    private int QuantiseShaped(double value, int channel)
    {
        var errors = _errors.AsSpan(channel * _weights.Length, _weights.Length);
        for (int i = 0; i < errors.Length; i++)
            value -= _weights[i] * errors[i];
        int quantised = Quantise(value);
        errors[..^1].CopyTo(errors[1..]);
        // What clipping takes away is no rounding error to be made good.
        errors[0] = Math.Clamp(quantised - value, -MaxError, MaxError);
        return quantised;
    }

    /// <summary>Uniform over 0 to 1 (xorshift64*, Vigna 2016).</summary>
    private double NextUniform()
    {
        _random ^= _random >> 12;
        _random ^= _random << 25;
        _random ^= _random >> 27;
        return ((_random * 0x2545F4914F6CDD1DUL) >> 11) * (1.0 / (1UL << 53));
    }
}
