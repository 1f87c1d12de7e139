using System.Numerics;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Metering;

/// <summary>What going once through a whole sound tells.</summary>
/// <param name="Md5">Of all samples; see <see cref="SampleDigest"/>.</param>
/// <param name="Format">Shape of the samples as decoded.</param>
/// <param name="FrameCount">Samples of one channel, counted.</param>
/// <param name="RealBits">How many of its bits the sound uses; 0 for silence. That of its format for floats.</param>
/// <param name="RealRate">The least usual sample rate in hertz that holds all of the sound; that of its format where that is needed.</param>
/// <param name="Peak">The greatest sample magnitude; full scale is 1.</param>
/// <param name="Waveform">See <see cref="Metering.Waveform.ToBytes"/>.</param>
/// <param name="Damage">What had to be read around, in words.</param>
public sealed record SoundSurvey(string Md5, PcmFormat Format, long FrameCount, int RealBits, int RealRate, double Peak, byte[] Waveform, IReadOnlyList<string> Damage)
{
    private const int BlocksPerReport = 64;

    /// <summary>Reads a source to its end.</summary>
    /// <param name="reader">Any sound; stays open.</param>
    /// <param name="report">Told the frames read so far, every now and then.</param>
    public static SoundSurvey Of(IPcmReader reader, Action<long> report)
    {
        using var digest = new SampleDigest();
        var waveform = new Waveform();
        var floats = new FloatSamples();
        var edge = new SpectralEdge(reader.Format);
        var block = new SampleBuffer(reader.Format);
        int used = 0;
        float low = 0, high = 0;
        for (int blocks = 1; reader.Read(block) > 0; blocks++)
        {
            digest.Append(block);
            var samples = floats.Of(block);
            waveform.Append(samples, reader.Format.Channels);
            edge.Append(samples);
            (low, high) = SampleRange.Widen(samples, low, high);
            if (!reader.Format.IsFloat)
                used |= AnyBits(block.Integers);
            if (blocks % BlocksPerReport == 0)
                report(digest.FrameCount);
        }

        int bits = reader.Format.IsFloat ? reader.Format.Bits : used == 0 ? 0 : reader.Format.Bits - BitOperations.TrailingZeroCount(used);
        long frames = digest.FrameCount;
        return new SoundSurvey(digest.Finish(), reader.Format, frames, bits, edge.RealRate(), Math.Max(-low, high), waveform.ToBytes(), reader.Damage);
    }

    /// <summary>Every bit that is set in any of the samples.</summary>
    private static int AnyBits(ReadOnlySpan<int> samples)
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
