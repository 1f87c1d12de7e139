using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>Measures one of two sounds while both are read.</summary>
/// <param name="known">Loudness and true peak, where they are known already.</param>
internal sealed class SoundMeter(PcmFormat format, KnownLoudness? known)
{
    private const float NearlyFull = 0.99999f;

    private readonly LoudnessMeter? _loudness = known is null ? new(format) : null;
    private long _clipped;
    private long _used;

    /// <summary>Measures the loudness of a block, where it is not known.</summary>
    public void Weigh(ReadOnlySpan<float> samples) => _loudness?.Append(samples);

    /// <summary>As <see cref="Weigh"/>, of two sounds at once.</summary>
    public static void WeighBoth(SoundMeter one, SoundMeter other, ReadOnlySpan<float> ones, ReadOnlySpan<float> others)
    {
        if (one._loudness is { } first && other._loudness is { } second)
        {
            LoudnessMeter.AppendBoth(first, second, ones, others);
            return;
        }

        one.Weigh(ones);
        other.Weigh(others);
    }

    /// <param name="peak">Their greatest magnitude, to seven digits.</param>
    public void NotePeak(ReadOnlySpan<float> samples, float peak)
    {
        float full = format.IsFloat ? 1 : 1 - 1f / (1L << Math.Min(23, format.Bits - 1));
        if (peak >= full * NearlyFull)
            CountClipped(samples, full);
    }

    /// <param name="block">The same samples, where they are integers.</param>
    public void NoteBits(SampleBuffer block)
    {
        // With the lowest bit in use there is nothing more to learn.
        if (!block.Format.IsFloat && (_used & 1) == 0)
            _used |= (uint)AudioAnalyser.AnyBits(block.Integers);
    }

    /// <param name="decoded">Format of the file.</param>
    /// <param name="frameCount">Length of the file.</param>
    /// <param name="seconds">Mean squares of the seconds of the common part.</param>
    /// <param name="start">Where the first second begins.</param>
    public SoundFigures Finish(PcmFormat decoded, long frameCount, IReadOnlyList<double> seconds, double start, double topEnd)
    {
        var loudness = _loudness?.Finish() is { } measured ? new KnownLoudness(measured.Integrated, measured.TruePeak) : known!;
        int bits = decoded.IsFloat || format.IsFloat
            ? decoded.Bits
            : _used == 0
            ? 0
            : format.Bits - System.Numerics.BitOperations.TrailingZeroCount(_used);
        var sounding = Enumerable.Range(0, seconds.Count).Where(second => seconds[second] > 0).ToList();
        return new SoundFigures
        {
            Format = decoded,
            FrameCount = frameCount,
            RealBits = bits,
            TruePeak = Level(loudness.TruePeak * loudness.TruePeak),
            ClippedSamples = _clipped,
            Loudness = loudness.Integrated,
            Quietest = sounding.Count == 0 ? null : At(sounding.MinBy(second => seconds[second])),
            Loudest = sounding.Count == 0 ? null : At(sounding.MaxBy(second => seconds[second])),
            TopEndHertz = topEnd,
        };

        PlacedLevel At(int second) => new(Level(seconds[second]), start + second);
    }

    /// <summary>Of a mean square, in dB; -200 for silence.</summary>
    public static double Level(double meanSquare) => meanSquare <= 1e-20 ? -200 : 10 * Math.Log10(meanSquare);

    private void CountClipped(ReadOnlySpan<float> samples, float full)
    {
        foreach (float sample in samples)
        {
            if (sample >= full || sample <= -1)
                _clipped++;
        }
    }
}
