namespace Wergamon.Core.Audio;

/// <summary>
/// Requantises floats or wider integers to fewer bits. Triangular dither, two steps wide (TPDF),
/// turns rounding distortion into noise (Lipshitz, Wannamaker and Vanderkooy, Quantization and Dither:
/// A Theoretical Analysis, JAES 40/5, 1992). Samples beyond full scale are clipped and counted.
/// </summary>
public sealed class RequantisingReader : IPcmReader
{
    private readonly FloatingInput _input;
    private readonly bool _dither;
    private ulong _random;

    /// <param name="source">Sound of any kind.</param>
    /// <param name="bits">Bits wanted, 8 to 32.</param>
    /// <param name="dither">False rounds to nearest.</param>
    /// <param name="seed">The same seed gives the same dither, so that a conversion is repeatable.</param>
    public RequantisingReader(IPcmReader source, int bits, bool dither = true, ulong seed = 1)
    {
        _input = new FloatingInput(source);
        _dither = dither;
        _random = seed | 1;
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
        double scale = 1L << (Format.Bits - 1);
        double highest = scale - 1;
        for (int i = 0; i < from.Length; i++)
        {
            double value = from[i] * scale;
            if (_dither)
                value += NextUniform() - NextUniform();
            value = Math.Round(value);
            if (value > highest || value < -scale)
            {
                ClippedSamples++;
                value = Math.Clamp(value, -scale, highest);
            }

            to[i] = (int)value;
        }

        return frames;
    }

    public void Dispose() => _input.Dispose();

    /// <summary>Uniform over 0 to 1 (xorshift64*, Vigna 2016).</summary>
    private double NextUniform()
    {
        _random ^= _random >> 12;
        _random ^= _random << 25;
        _random ^= _random >> 27;
        return ((_random * 0x2545F4914F6CDD1DUL) >> 11) * (1.0 / (1UL << 53));
    }
}
