namespace Wergamon.Core.Audio.Steps;

/// <summary>Any source as 32-bit floats.</summary>
/// <param name="source">Owned from now on.</param>
public sealed class SinglePrecisionReader(IPcmReader source) : IPcmReader
{
    private readonly SampleBuffer _block = new(source.Format);
    private readonly FloatSamples _floats = new();

    public PcmFormat Format { get; } = source.Format with { Bits = 32, Kind = SampleKind.Float };

    public long? FrameCount => source.FrameCount;

    public IReadOnlyList<string> Damage => source.Damage;

    public int Read(SampleBuffer block)
    {
        block.FrameCount = source.Read(_block);
        _floats.Of(_block).CopyTo(block.Floats);
        return block.FrameCount;
    }

    public void Dispose() => source.Dispose();
}
