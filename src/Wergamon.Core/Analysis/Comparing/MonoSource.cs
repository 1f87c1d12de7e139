using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Resampling;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>One signal for all channels, for the search of a place.</summary>
internal sealed class MonoSource(ISeekablePcm source)
{
    /// <summary>Each channel counts less than the one before, so that opposite polarity in two of them does not leave silence.</summary>
    private const float NextWeight = 0.7f;

    private const int Chunk = 16_384;

    /// <summary>Sections that are kept: each is looked at several times.</summary>
    private const int MaxSections = 16;

    private readonly SampleBuffer _block = new(source.Format, Chunk);
    private readonly FloatSamples _floats = new();
    private readonly Dictionary<(long From, int Count), float[]> _sections = [];

    public long FrameCount => source.FrameCount;

    public int Rate => source.Format.Rate.Hertz;

    /// <summary>Frames from any place; silence outside of the signal.</summary>
    public float[] Read(long from, int count)
    {
        var mono = new float[count];
        Read(from, mono);
        return mono;
    }

    /// <summary>As many frames as <paramref name="mono"/> takes.</summary>
    public void Read(long from, Span<float> mono)
    {
        int channels = source.Format.Channels;
        for (int done = 0; done < mono.Length; done += Chunk)
        {
            int frames = Math.Min(Chunk, mono.Length - done);
            source.Read(from + done, frames, _block);
            var samples = _floats.Of(_block);
            var to = mono.Slice(done, frames);
            if (channels == 2)
            {
                for (int frame = 0; frame < to.Length; frame++)
                    to[frame] = samples[2 * frame] + NextWeight * samples[2 * frame + 1];
                continue;
            }

            for (int frame = 0, at = 0; frame < frames; frame++)
            {
                float sum = 0, weight = 1;
                for (int channel = 0; channel < channels; channel++, weight *= NextWeight)
                    sum += weight * samples[at++];
                to[frame] = sum;
            }
        }
    }

    /// <summary>As <see cref="Read(long, int)"/>, for frames that are asked for again and not changed.</summary>
    public float[] Section(long from, int count)
    {
        if (_sections.TryGetValue((from, count), out var known))
            return known;
        if (_sections.Count == MaxSections)
            _sections.Clear();
        return _sections[(from, count)] = Read(from, count);
    }

    /// <summary>Means of several frames each.</summary>
    /// <param name="by">Frames of the signal for one of the result.</param>
    public float[] ReadCoarse(long from, int count, int by)
    {
        var fine = Read(from, count * by);
        var coarse = new float[count];
        for (int i = 0; i < count; i++)
        {
            float sum = 0;
            foreach (float sample in fine.AsSpan(i * by, by))
                sum += sample;
            coarse[i] = sum / by;
        }

        return coarse;
    }

    /// <summary>Frames at places between the samples.</summary>
    public float[] ReadBetween(double from, double step, int count, SincInterpolator sinc)
    {
        long first = (long)Math.Floor(from) - SincInterpolator.Reach + 1;
        var samples = Read(first, (int)((long)Math.Floor(from + (count - 1) * step) + SincInterpolator.Reach + 2 - first));
        var result = new float[count];
        for (int i = 0; i < count; i++)
        {
            double here = from + i * step - first;
            int whole = (int)here;
            sinc.MoveTo(here - whole);
            result[i] = sinc.Of(samples.AsSpan(whole - SincInterpolator.Reach + 1, 2 * SincInterpolator.Reach));
        }

        return result;
    }
}
