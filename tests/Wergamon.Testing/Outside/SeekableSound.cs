using Wergamon.Core.Audio;

namespace Wergamon.Testing.Outside;

/// <summary>A sound in memory that can be read from any place.</summary>
public sealed class SeekableSound : ISeekablePcm
{
    private readonly double[] _samples;

    /// <param name="sample">The value of a frame and channel; full scale is 1. Integers are rounded and held at full scale.</param>
    public SeekableSound(PcmFormat format, int frames, Func<int, int, double> sample)
    {
        (Format, FrameCount) = (format, frames);
        _samples = new double[frames * format.Channels];
        double scale = format.IsFloat ? 1 : 1L << (format.Bits - 1);
        for (int i = 0; i < _samples.Length; i++)
        {
            double value = sample(i / format.Channels, i % format.Channels) * scale;
            _samples[i] = format.IsFloat ? value : Math.Clamp(Math.Round(value), -scale, scale - 1);
        }
    }

    public PcmFormat Format { get; }

    public long FrameCount { get; }

    public void Read(long frame, int count, SampleBuffer block)
    {
        block.FrameCount = count;
        for (int i = 0; i < count * Format.Channels; i++)
        {
            long at = frame * Format.Channels + i;
            double value = at >= 0 && at < _samples.Length ? _samples[at] : 0;
            if (!Format.IsFloat)
                block.Integers[i] = (int)value;
            else if (Format.Bits == 32)
                block.Floats[i] = (float)value;
            else
                block.Doubles[i] = value;
        }
    }

    public void Dispose() { }
}
