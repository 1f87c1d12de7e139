namespace Wergamon.Core.Audio.Steps;

/// <summary>A range of the frames of a source; the samples stay as they are.</summary>
/// <param name="source">Owned from now on.</param>
public sealed class RangeReader(IPcmReader source, FrameRange range) : IPcmReader
{
    private readonly SampleBuffer _read = new(source.Format);
    private long _skip = range.Start;
    private long _left = range.Count;
    private int _at;

    public PcmFormat Format => source.Format;

    public long? FrameCount => range.Count < FrameRange.ToEnd ? range.Count : source.FrameCount - range.Start;

    public IReadOnlyList<string> Damage => source.Damage;

    public int Read(SampleBuffer block)
    {
        block.FrameCount = 0;
        while (_left > 0 && _at == _read.FrameCount)
        {
            int got = source.Read(_read);
            if (got == 0)
                return 0;
            _at = (int)Math.Min(_skip, got);
            _skip -= _at;
        }

        int count = (int)Math.Min(Math.Min(_read.FrameCount - _at, block.Capacity), _left);
        _read.CopyTo(block, _at, count);
        (_at, _left) = (_at + count, _left - count);
        return count;
    }

    public void Dispose() => source.Dispose();
}
