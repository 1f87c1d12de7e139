using System.Numerics;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis;

/// <summary>Analyses audio block by block, so that it can run alongside anything else that reads the samples.</summary>
/// <param name="format">Format of the samples.</param>
/// <param name="measuresLoudness">False to leave out what takes longest.</param>
public sealed class AudioAnalyser(PcmFormat format, bool measuresLoudness = true) : IDisposable
{
    private const int BlocksPerReport = 64;

    private readonly SampleDigest _digest = new();
    private readonly Waveform _waveform = new();
    private readonly FloatSamples _floats = new();
    private readonly SpectralEdge _edge = new(format);
    private readonly LoudnessMeter? _loudness = measuresLoudness ? new(format) : null;
    private readonly DownmixPeak? _downmix = measuresLoudness ? DownmixPeak.For(format) : null;
    private int _used;
    private float _low, _high;

    /// <summary>Reads a source to its end.</summary>
    /// <param name="reader">Any audio; stays open.</param>
    /// <param name="report">Called from time to time with the frames read so far.</param>
    public static AudioAnalysis Analyse(IPcmReader reader, Action<long> report)
    {
        using var analyser = new AudioAnalyser(reader.Format);
        var block = new SampleBuffer(reader.Format);
        for (int blocks = 1; reader.Read(block) > 0; blocks++)
        {
            analyser.Append(block);
            if (blocks % BlocksPerReport == 0)
                report(analyser._digest.FrameCount);
        }

        return analyser.Finish(reader.Damage);
    }

    public void Append(SampleBuffer block)
    {
        _digest.Append(block);
        var samples = _floats.Of(block);
        _waveform.Append(samples, format.Channels);
        _edge.Append(samples);
        _loudness?.Append(samples);
        _downmix?.Append(samples);
        (_low, _high) = SampleRange.Widen(samples, _low, _high);
        if (!format.IsFloat)
            _used |= AnyBits(block.Integers);
    }

    /// <param name="damage">Damage that was skipped, in words.</param>
    public AudioAnalysis Finish(IReadOnlyList<string> damage)
    {
        int bits = format.IsFloat ? format.Bits : _used == 0 ? 0 : format.Bits - BitOperations.TrailingZeroCount(_used);
        long frames = _digest.FrameCount;
        return new AudioAnalysis(
            _digest.Finish(), format, frames, bits, _edge.RealRate(), Math.Max(-_low, _high), _waveform.ToBytes(), damage)
        {
            Loudness = _loudness?.Finish(),
            DownmixPeak = _downmix?.Peak,
        };
    }

    public void Dispose() => _digest.Dispose();

    /// <summary>OR of all samples.</summary>
    internal static int AnyBits(ReadOnlySpan<int> samples)
    {
        var any = Vector<int>.Zero;
        for (int width = Vector<int>.Count; samples.Length >= width; samples = samples[width..])
            any |= new Vector<int>(samples);
        int bits = 0;
        for (int lane = 0; lane < Vector<int>.Count; lane++)
            bits |= any[lane];
        foreach (int sample in samples)
            bits |= sample;
        return bits;
    }
}
