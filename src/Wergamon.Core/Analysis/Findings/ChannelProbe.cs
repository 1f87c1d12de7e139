using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis.Findings;

/// <summary>Looks at one channel, sample by sample.</summary>
internal interface IChannelProbe
{
    void Append(float sample, long frame);
}

/// <summary>Looks at each channel by itself.</summary>
internal abstract class ChannelProbe<TChannel>(PcmFormat format) : ISoundProbe
    where TChannel : IChannelProbe, new()
{
    protected PcmFormat Format => format;

    protected IReadOnlyList<TChannel> Channels => _channels;

    /// <summary>Frames so far.</summary>
    protected long FrameCount { get; private set; }

    private readonly TChannel[] _channels = [.. Enumerable.Range(0, format.Channels).Select(_ => new TChannel())];

    public void Append(ReadOnlySpan<float> samples)
    {
        for (int at = 0; at < samples.Length; at += _channels.Length, FrameCount++)
        {
            for (int channel = 0; channel < _channels.Length; channel++)
                _channels[channel].Append(samples[at + channel], FrameCount);
        }
    }

    public abstract IEnumerable<Finding> Findings();
}
