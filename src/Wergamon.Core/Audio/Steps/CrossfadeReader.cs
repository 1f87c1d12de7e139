namespace Wergamon.Core.Audio.Steps;

/// <summary>
/// The end of one sound into the start of another, along a quarter of a cosine and of a sine, so that the power stays the same for
/// sounds that have nothing to do with each other (common practice, no source). Integers are rounded; what would clip is held at full
/// scale.
/// </summary>
public sealed class CrossfadeReader : IPcmReader
{
    private readonly IPcmReader _first, _second;
    private readonly SampleBuffer _firstBlock, _secondBlock;
    private readonly long _frames;
    private long _at;
    private int _firstAt, _secondAt;

    /// <param name="first">Integers; has exactly as many frames as the crossfade, and is owned from now on.</param>
    /// <param name="second">Of the same format and length; owned from now on.</param>
    public CrossfadeReader(IPcmReader first, IPcmReader second, long frames)
    {
        if (first.Format != second.Format || first.Format.IsFloat)
            throw new ArgumentException("A crossfade needs two sources of one integer format.", nameof(second));
        (_first, _second, _frames) = (first, second, frames);
        (_firstBlock, _secondBlock) = (new SampleBuffer(first.Format), new SampleBuffer(first.Format));
    }

    public PcmFormat Format => _first.Format;

    public long? FrameCount => _frames;

    public IReadOnlyList<string> Damage => [.. _first.Damage, .. _second.Damage];

    public int Read(SampleBuffer block)
    {
        block.FrameCount = 0;
        if (!Fill(_first, _firstBlock, ref _firstAt) || !Fill(_second, _secondBlock, ref _secondAt))
            return 0;
        int count = Math.Min(Math.Min(_firstBlock.FrameCount - _firstAt, _secondBlock.FrameCount - _secondAt), block.Capacity);
        block.FrameCount = count;
        int channels = Format.Channels;
        double most = Math.Pow(2, Format.Bits - 1) - 1;
        var into = block.Integers;
        var one = _firstBlock.Integers[(_firstAt * channels)..];
        var other = _secondBlock.Integers[(_secondAt * channels)..];
        for (int frame = 0; frame < count; frame++)
        {
            var (rising, falling) = Math.SinCos((_at + frame + 0.5) / _frames * Math.PI / 2);
            for (int i = frame * channels; i < (frame + 1) * channels; i++)
                into[i] = (int)Math.Clamp(Math.Round(one[i] * falling + other[i] * rising), -most - 1, most);
        }

        (_at, _firstAt, _secondAt) = (_at + count, _firstAt + count, _secondAt + count);
        return count;
    }

    public void Dispose()
    {
        _first.Dispose();
        _second.Dispose();
    }

    private static bool Fill(IPcmReader source, SampleBuffer block, ref int at)
    {
        if (at < block.FrameCount)
            return true;
        at = 0;
        return source.Read(block) > 0;
    }
}
