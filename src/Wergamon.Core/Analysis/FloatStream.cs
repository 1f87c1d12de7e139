using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis;

/// <summary>A signal as 32-bit floats, read in pieces of any length.</summary>
internal sealed class FloatStream(IPcmReader reader) : IDisposable
{
    private readonly SampleBuffer _block = new(reader.Format);
    private readonly FloatSamples _floats = new();
    private int _at;
    private int _held;

    public PcmFormat Format => reader.Format;

    public bool IsAtEnd { get; private set; }

    /// <summary>Fills from the front and returns the sample count; fewer than asked for only at the end.</summary>
    public int Read(Span<float> samples)
    {
        int count = 0;
        while (count < samples.Length && Next() is { Length: > 0 } here)
        {
            int take = Math.Min(here.Length, samples.Length - count);
            here[..take].CopyTo(samples[count..]);
            _at += take;
            count += take;
        }

        return count;
    }

    public void Skip(long frames)
    {
        for (long left = frames * Format.Channels; left > 0 && Next() is { Length: > 0 } here;)
        {
            int take = (int)Math.Min(left, here.Length);
            _at += take;
            left -= take;
        }
    }

    /// <summary>Sum of all channels, frame by frame; silence before the start and after the end.</summary>
    public float[] ReadMono(int frames, int before)
    {
        var samples = new float[(frames - before) * Format.Channels];
        int count = Read(samples) / Format.Channels;
        var mono = new float[frames];
        for (int frame = 0; frame < count; frame++)
        {
            float sum = 0;
            foreach (float sample in samples.AsSpan(frame * Format.Channels, Format.Channels))
                sum += sample;
            mono[before + frame] = sum;
        }

        return mono;
    }

    public void Dispose() => reader.Dispose();

    private ReadOnlySpan<float> Next()
    {
        if (_at == _held && !IsAtEnd)
        {
            IsAtEnd = reader.Read(_block) == 0;
            (_at, _held) = (0, _block.FrameCount * Format.Channels);
        }

        return IsAtEnd ? default : _floats.Of(_block)[_at..];
    }
}
