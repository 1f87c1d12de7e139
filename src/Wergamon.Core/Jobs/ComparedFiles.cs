namespace Wergamon.Core.Jobs;

/// <summary>The files that a comparison leaves in its folder.</summary>
public static class ComparedFiles
{
    /// <summary>Both sounds as WAV, at one rate and with the same channels; the second begins on a frame of the first.</summary>
    public const string First = "first.wav", Second = "second.wav";

    /// <summary>See <see cref="Analysis.Comparing.PairWaveform"/>.</summary>
    public const string Waveform = "waveform";
}
