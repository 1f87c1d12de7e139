namespace Wergamon.Core.Tests.Analysis.Comparing;

/// <summary>A signal of rising and falling tones that is known between its samples, too, and is nowhere like itself; and noise.</summary>
internal static class Sweeps
{
    private static readonly (double Hertz, double Rise, double Level)[] Tones =
        [
            (90, 17, 0.3), (410, -23, 0.25), (777, 61, 0.2), (1503, 97, 0.15), (2111, -83, 0.12), (3301, 41, 0.1), (5003, -131, 0.08),
            (7207, 53, 0.05)
        ];

    /// <param name="seconds">Silence before the start.</param>
    public static double At(double seconds, int channel = 0)
    {
        if (seconds < 0)
            return 0;
        double sum = 0;
        foreach (var (hertz, rise, level) in Tones)
            sum += level * Math.Sin(2 * Math.PI * ((hertz + 31 * channel) * seconds + rise * seconds * seconds / 2));
        return 0.5 * sum * (0.7 + 0.3 * Math.Sin(1.3 * seconds));
    }

    /// <summary>White, uniform from -1 to 1; the same for the same place.</summary>
    public static double Noise(long place)
    {
        ulong value = (ulong)place * 0x9E3779B97F4A7C15UL;
        value = (value ^ value >> 30) * 0xBF58476D1CE4E5B9UL;
        value = (value ^ value >> 27) * 0x94D049BB133111EBUL;
        return ((value ^ value >> 31) >> 11) * (1.0 / (1UL << 52)) - 1;
    }
}
