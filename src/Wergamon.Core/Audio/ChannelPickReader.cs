namespace Wergamon.Core.Audio;

/// <summary>A single channel of a source.</summary>
/// <param name="source">Integers; owned from now on.</param>
/// <param name="channel">From 0.</param>
public sealed class ChannelPickReader(IPcmReader source, int channel) : IPcmReader
{
    private readonly SampleBuffer _block = new(source.Format);

    public PcmFormat Format { get; } = source.Format with { Channels = 1, Roles = ChannelRoles.Mono };

    public long? FrameCount => source.FrameCount;

    public IReadOnlyList<string> Damage => source.Damage;

    public int Read(SampleBuffer block)
    {
        block.FrameCount = source.Read(_block);
        var from = _block.Integers;
        var to = block.Integers;
        for (int frame = 0; frame < to.Length; frame++)
            to[frame] = from[frame * source.Format.Channels + channel];
        return block.FrameCount;
    }

    public void Dispose() => source.Dispose();
}
