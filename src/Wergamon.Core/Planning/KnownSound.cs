namespace Wergamon.Core.Planning;

/// <summary>What the analysis of a source found that routes depend on.</summary>
/// <param name="RealBits">Bits really used; 0 for silence.</param>
/// <param name="Level">Of the track.</param>
/// <param name="DownmixPeak">Peak of its standard downmix to stereo, linear; null for at most two channels.</param>
public sealed record KnownSound(int RealBits, SoundLevel Level, double? DownmixPeak = null)
{
    /// <summary>Of its whole album, where the target takes albums as one.</summary>
    public SoundLevel? AlbumLevel { get; init; }
}

/// <param name="Integrated">Loudness in LUFS; null for silence.</param>
/// <param name="TruePeak">Linear.</param>
public readonly record struct SoundLevel(double? Integrated, double TruePeak);
