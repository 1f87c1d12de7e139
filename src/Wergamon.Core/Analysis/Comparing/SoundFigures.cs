using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>A level and where it is.</summary>
/// <param name="Decibels">Relative to full scale.</param>
/// <param name="Seconds">On the time axis of the first signal.</param>
public sealed record PlacedLevel(double Decibels, double Seconds);

/// <summary>What is measured of one of two sounds by itself.</summary>
/// <param name="Format">As decoded from its file.</param>
/// <param name="FrameCount">As decoded from its file.</param>
/// <param name="RealBits">Bits that are used; of floats, those of the format; 0 for silence.</param>
/// <param name="TruePeak">In dBTP (ITU-R BS.1770-4, annex 2).</param>
/// <param name="ClippedSamples">Samples at full scale or beyond.</param>
/// <param name="Loudness">In LUFS; null when it is too short or too quiet.</param>
/// <param name="Quietest">RMS of the quietest second that is not silent; null without a whole second.</param>
/// <param name="Loudest">RMS of the loudest second.</param>
/// <param name="TopEndHertz">See <see cref="PairSpectrum.TopEnd"/>.</param>
public sealed record SoundFigures(
    PcmFormat Format, long FrameCount, int RealBits, double TruePeak, long ClippedSamples, double? Loudness, PlacedLevel? Quietest,
    PlacedLevel? Loudest, double TopEndHertz);

/// <summary>What an earlier analysis has measured.</summary>
/// <param name="Integrated">In LUFS; null when it is too short or too quiet.</param>
/// <param name="TruePeak">Linear.</param>
public sealed record KnownLoudness(double? Integrated, double TruePeak);
