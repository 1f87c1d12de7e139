namespace Wergamon.Core.Audio.Steps;

/// <summary>Digital silence of a given length.</summary>
public sealed class SilenceReader(PcmFormat format, long frames) : IPcmReader
{
    private long _left = frames;

    public PcmFormat Format => format;

    public long? FrameCount { get; } = frames;

    public IReadOnlyList<string> Damage => [];

    public int Read(SampleBuffer block)
    {
        block.FrameCount = (int)Math.Min(_left, block.Capacity);
        _left -= block.FrameCount;
        if (block.FrameCount == 0)
            return 0;
        if (!Format.IsFloat)
            block.Integers.Clear();
        else if (Format.Bits == 64)
            block.Doubles.Clear();
        else
            block.Floats.Clear();
        return block.FrameCount;
    }

    public void Dispose()
    {
    }
}
