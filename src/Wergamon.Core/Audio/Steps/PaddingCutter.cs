namespace Wergamon.Core.Audio.Steps;

/// <summary>
/// Cuts off what an encoder has added behind the music. More than an encoder adds is music, whatever the header says, and stays.
/// </summary>
/// <param name="source">Owned from now on.</param>
/// <param name="frames">Samples of one channel that the header states.</param>
public sealed class PaddingCutter(IPcmReader source, long frames) : IPcmReader
{
    /// <summary>Four packets of the longest kind; common practice, no source.</summary>
    public const int MaxPadding = 8192;

    private readonly List<SampleBuffer> _held = [];
    private long _left = frames;
    private bool _isPastPadding;

    public IPcmReader Source => source;

    public PcmFormat Format => source.Format;

    public long? FrameCount { get; } = frames;

    public IReadOnlyList<string> Damage => source.Damage;

    public int Read(SampleBuffer block)
    {
        if (_isPastPadding && _held.Count == 0)
            return source.Read(block);
        if (_left > 0)
        {
            int got = source.Read(block);
            if (got <= _left)
            {
                _left -= got;
                return got;
            }

            Hold(block, (int)_left, got - (int)_left);
            block.FrameCount = (int)_left;
            _left = 0;
            return block.FrameCount;
        }

        if (!_isPastPadding && !FindMusic(block.Capacity))
        {
            block.FrameCount = 0;
            return 0;
        }

        var held = _held[0];
        int take = Math.Min(held.FrameCount, block.Capacity);
        held.CopyTo(block, 0, take);
        _held.RemoveAt(0);
        if (take < held.FrameCount)
            Hold(held, take, held.FrameCount - take, first: true);
        return take;
    }

    public void Dispose() => source.Dispose();

    /// <summary>Reads on behind the stated end; false when it is only padding.</summary>
    private bool FindMusic(int capacity)
    {
        var block = new SampleBuffer(Format, capacity);
        while (_held.Sum(each => each.FrameCount) <= MaxPadding)
        {
            int got = source.Read(block);
            if (got == 0)
                return false;
            Hold(block, 0, got);
        }

        return _isPastPadding = true;
    }

    private void Hold(SampleBuffer from, int start, int count, bool first = false)
    {
        var part = new SampleBuffer(Format, count);
        from.CopyTo(part, start, count);
        _held.Insert(first ? 0 : _held.Count, part);
    }
}
