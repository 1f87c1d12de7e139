namespace Wergamon.Core.Audio;

/// <summary>Levels of samples: decibels and linear gains.</summary>
public static class Decibels
{
    /// <summary>0 dB is 1.</summary>
    public static double ToGain(double decibels) => Math.Pow(10, decibels / 20);

    /// <summary>1 is 0 dB; negative infinity for 0.</summary>
    public static double FromGain(double gain) => 20 * Math.Log10(gain);
}
