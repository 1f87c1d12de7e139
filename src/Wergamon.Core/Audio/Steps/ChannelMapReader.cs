using System.Runtime.InteropServices;

namespace Wergamon.Core.Audio.Steps;

/// <summary>Channels of a source rearranged, repeated or left out. Samples are not changed.</summary>
/// <param name="source">Owned from now on.</param>
/// <param name="channels">For each channel of the output the one of the source, from 0.</param>
/// <param name="roles">Speakers of the output.</param>
public sealed class ChannelMapReader(IPcmReader source, IReadOnlyList<int> channels, ChannelRoles roles) : IPcmReader
{
    private readonly SampleBuffer _block = new(source.Format);
    private readonly int[] _channels = [.. channels];

    public PcmFormat Format { get; } = source.Format with { Channels = channels.Count, Roles = roles };

    public long? FrameCount => source.FrameCount;

    public IReadOnlyList<string> Damage => source.Damage;

    public int Read(SampleBuffer block)
    {
        block.FrameCount = source.Read(_block);
        if (Format is { IsFloat: true, Bits: 64 })
            Copy(_block.Doubles, block.Doubles);
        else if (Format.IsFloat)
            Copy(MemoryMarshal.Cast<float, int>(_block.Floats), MemoryMarshal.Cast<float, int>(block.Floats));
        else
            Copy(_block.Integers, block.Integers);
        return block.FrameCount;
    }

    public void Dispose() => source.Dispose();

    private void Copy<T>(ReadOnlySpan<T> from, Span<T> to)
    {
        int width = source.Format.Channels;
        for (int start = 0, at = 0; at < to.Length; start += width)
        {
            foreach (int channel in _channels)
                to[at++] = from[start + channel];
        }
    }
}
