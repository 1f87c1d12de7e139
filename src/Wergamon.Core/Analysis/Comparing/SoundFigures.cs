using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>A level and where it is.</summary>
/// <param name="Decibels">Relative to full scale.</param>
/// <param name="Seconds">On the time axis of the first signal.</param>
public sealed record PlacedLevel(double Decibels, double Seconds);

/// <summary>What is measured of each of two sounds.</summary>
public sealed record SoundFigures
{
    /// <summary>As decoded from its file.</summary>
    public PcmFormat Format { get; init; }

    /// <summary>As decoded from its file.</summary>
    public long FrameCount { get; init; }

    /// <summary>Bits that are used; of floats, those of the format; 0 for silence.</summary>
    public int RealBits { get; init; }

    /// <summary>In dBTP (ITU-R BS.1770-4, annex 2).</summary>
    public double TruePeak { get; init; }

    /// <summary>Samples at full scale or beyond.</summary>
    public long ClippedSamples { get; init; }

    /// <summary>In LUFS; null when it is too short or too quiet.</summary>
    public double? Loudness { get; init; }

    /// <summary>RMS of the quietest second that is not silent; null without a whole second.</summary>
    public PlacedLevel? Quietest { get; init; }

    /// <summary>RMS of the loudest second.</summary>
    public PlacedLevel? Loudest { get; init; }

    /// <summary>See <see cref="PairSpectrum.TopEnd"/>.</summary>
    public double TopEndHertz { get; init; }
}

/// <summary>What an earlier analysis has measured.</summary>
/// <param name="Integrated">In LUFS; null when it is too short or too quiet.</param>
/// <param name="TruePeak">Linear.</param>
public sealed record KnownLoudness(double? Integrated, double TruePeak);
