using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis;

/// <summary>What one pass over the audio of a file tells.</summary>
/// <param name="Md5">Of all samples; see <see cref="SampleDigest"/>.</param>
/// <param name="Format">Shape of the samples as decoded.</param>
/// <param name="FrameCount">Samples of one channel, counted.</param>
/// <param name="RealBits">How many of its bits the sound uses; 0 for silence. That of its format for floats.</param>
/// <param name="RealRate">The least usual sample rate in hertz that holds all of the sound; that of its format where that is needed.</param>
/// <param name="Peak">The greatest sample magnitude; full scale is 1.</param>
/// <param name="Waveform">See <see cref="Core.Analysis.Waveform.ToBytes"/>.</param>
/// <param name="Damage">What had to be read around, in words.</param>
public sealed record AudioAnalysis(string Md5, PcmFormat Format, long FrameCount, int RealBits, int RealRate, double Peak, byte[] Waveform, IReadOnlyList<string> Damage);
