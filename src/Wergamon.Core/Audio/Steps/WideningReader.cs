namespace Wergamon.Core.Audio.Steps;

/// <summary>Shifts integers into more bits: the same values on a finer scale.</summary>
public sealed class WideningReader : IPcmReader
{
    private readonly IPcmReader _source;
    private readonly SampleBuffer _block;
    private readonly int _shift;

    public WideningReader(IPcmReader source, int bits)
    {
        _source = source;
        _block = new SampleBuffer(source.Format);
        _shift = bits - source.Format.Bits;
        ArgumentOutOfRangeException.ThrowIfNegative(_shift);
        Format = source.Format with { Bits = bits };
    }

    public PcmFormat Format { get; }

    public long? FrameCount => _source.FrameCount;

    public IReadOnlyList<string> Damage => _source.Damage;

    public int Read(SampleBuffer block)
    {
        int frames = _source.Read(_block);
        block.FrameCount = frames;
        var from = _block.Integers;
        var to = block.Integers;
        for (int i = 0; i < from.Length; i++)
            to[i] = from[i] << _shift;
        return frames;
    }

    public void Dispose() => _source.Dispose();
}
