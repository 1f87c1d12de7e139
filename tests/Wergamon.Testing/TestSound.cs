using Wergamon.Core.Audio;

namespace Wergamon.Testing;

/// <summary>Test signals, and readers that give them without a file.</summary>
public sealed class TestSound : IPcmReader
{
    private readonly Action<SampleBuffer, long> _fill;
    private long _at;

    /// <param name="fill">Fills the samples in use of a block that starts at the frame given.</param>
    public TestSound(PcmFormat format, long frames, Action<SampleBuffer, long> fill)
    {
        Format = format;
        FrameCount = frames;
        _fill = fill;
    }

    public PcmFormat Format { get; }

    public long? FrameCount { get; }

    public IReadOnlyList<string> Damage => [];

    /// <summary>Seeded noise over the whole range of an integer format, so that any error in a sample path shows.</summary>
    public static TestSound Noise(PcmFormat format, long frames, int seed = 1) => new(format, frames, (block, start) =>
    {
        var samples = block.Integers;
        for (int i = 0; i < samples.Length; i++)
            samples[i] = (int)(
                Hash((ulong)(start * format.Channels + i), (ulong)seed) >> (64 - format.Bits)) << (32 - format.Bits) >> (32 - format.Bits);
    });

    /// <summary>Samples of one channel, as 32-bit floats.</summary>
    public static TestSound Of(float[] mono, int rate) => new(
        new PcmFormat(new SampleRate(rate), 1, 32, SampleKind.Float), mono.Length,
        (block, start) => mono.AsSpan((int)start, block.FrameCount).CopyTo(block.Floats));

    /// <summary>A sine in every channel, as 64-bit floats.</summary>
    public static TestSound Tone(int rate, int channels, long frames, double hertz, double amplitude = 0.5) =>
        new(new PcmFormat(new SampleRate(rate), channels, 64, SampleKind.Float), frames, (block, start) =>
        {
            var samples = block.Doubles;
            for (int i = 0; i < samples.Length; i++)
                samples[i] = amplitude * Math.Sin(2 * Math.PI * hertz * (start + i / channels) / rate);
        });

    /// <summary>A signal like music for encoders: two tones that swell, as integers.</summary>
    public static TestSound Music(PcmFormat format, long frames) => new(format, frames, (block, start) =>
    {
        var samples = block.Integers;
        double scale = (1L << (format.Bits - 1)) * 0.4;
        for (int i = 0; i < samples.Length; i++)
        {
            double t = (start + i / format.Channels) / (double)format.Rate.Hertz;
            samples[i] = (int)(
                scale * (
                    Math.Sin(2 * Math.PI * 330 * t)
                        + 0.7 * Math.Sin(2 * Math.PI * (495 + 40 * (i % format.Channels)) * t)) * (0.5 + 0.5 * Math.Sin(t)));
        }
    });

    public int Read(SampleBuffer block)
    {
        block.FrameCount = (int)Math.Min(block.Capacity, FrameCount!.Value - _at);
        if (block.FrameCount > 0)
            _fill(block, _at);
        _at += block.FrameCount;
        return block.FrameCount;
    }

    public void Dispose() { }

    private static ulong Hash(ulong value, ulong seed)
    {
        value = (value + seed * 0x9E3779B97F4A7C15UL) * 0xBF58476D1CE4E5B9UL;
        value = (value ^ value >> 31) * 0x94D049BB133111EBUL;
        return value ^ value >> 30;
    }
}
