using System.Text.Json.Serialization;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis;

/// <summary>Result of one pass over the audio of a file.</summary>
/// <param name="Digest">Of all samples; see <see cref="SampleDigest"/>.</param>
/// <param name="Format">Format of the samples as decoded.</param>
/// <param name="FrameCount">Samples of one channel, counted.</param>
/// <param name="RealBits">Bits really used; 0 for silence. For floats, those of the format.</param>
/// <param name="RealRate">Lowest common sample rate in hertz that holds the whole spectrum; the file's own where it is needed.</param>
/// <param name="Peak">The greatest sample magnitude; full scale is 1.</param>
/// <param name="Waveform">See <see cref="Core.Analysis.Waveform.ToBytes"/>.</param>
/// <param name="Damage">Damage that was skipped, in words.</param>
public sealed record AudioAnalysis(
    [property: JsonPropertyName("md5")] string Digest, PcmFormat Format, long FrameCount, int RealBits, int RealRate, double Peak,
    byte[] Waveform, IReadOnlyList<string> Damage)
{
    /// <summary>Null where it was not measured.</summary>
    public Loudness? Loudness { get; init; }

    /// <summary>Peak of the standard downmix to stereo, linear; null for at most two channels.</summary>
    public double? DownmixPeak { get; init; }
}
