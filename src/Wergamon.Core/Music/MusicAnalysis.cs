namespace Wergamon.Core.Music;

/// <summary>What the music of a file was found to be.</summary>
/// <param name="Tempo">Null where no beat was found.</param>
/// <param name="Key">Null where no pitches were found.</param>
/// <param name="OnsetsPerSecond">How often something new sounds.</param>
/// <param name="Brightness">Mean frequency of all that sounds, in Hz.</param>
/// <param name="FirstSound">Seconds to the first sound above -60 dBFS.</param>
/// <param name="LastSound">Seconds to the last.</param>
public sealed record MusicAnalysis(
    Tempo? Tempo, KeyEstimate? Key, double OnsetsPerSecond, double Brightness, double FirstSound, double LastSound)
{
    /// <summary>Seconds to the first strong change of the sound, on a beat where there is one; null where it hardly changes.</summary>
    public double? FirstChange { get; init; }

    /// <summary>Seconds to the last strong change; null where there is but one.</summary>
    public double? LastChange { get; init; }
}
