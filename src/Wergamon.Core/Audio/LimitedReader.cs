namespace Wergamon.Core.Audio;

/// <summary>The first samples of a source; the rest is padding.</summary>
/// <param name="source">Owned from now on.</param>
/// <param name="frames">Samples of one channel to give; fewer if the source ends before.</param>
public sealed class LimitedReader(IPcmReader source, long frames) : IPcmReader
{
    private long _left = frames;

    public PcmFormat Format => source.Format;

    public long? FrameCount { get; } = frames;

    public IReadOnlyList<string> Damage => source.Damage;

    public int Read(SampleBuffer block)
    {
        if (_left == 0)
        {
            block.FrameCount = 0;
            return 0;
        }

        int got = (int)Math.Min(source.Read(block), _left);
        block.FrameCount = got;
        _left -= got;
        return got;
    }

    public void Dispose() => source.Dispose();
}
