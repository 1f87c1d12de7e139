namespace Wergamon.Core.Analysis;

/// <summary>Energies of blocks and their gates (ITU-R BS.1770-4, annex 1; EBU Tech 3342).</summary>
internal static class LoudnessGate
{
    /// <summary>In LUFS.</summary>
    public const double Absolute = -70;

    /// <summary>-10 LU as a ratio of energies.</summary>
    public const double RelativeOfIntegrated = 0.1;

    /// <summary>-20 LU as a ratio of energies.</summary>
    private const double RelativeOfRange = 0.01;

    private const double Offset = -0.691, LowPercentile = 0.10, HighPercentile = 0.95;

    /// <summary>Loudness of a weighted mean square.</summary>
    public static double InLufs(double energy) => Offset + 10 * Math.Log10(energy);

    public static double EnergyOf(double lufs) => Math.Pow(10, (lufs - Offset) / 10);

    private static readonly double AbsoluteEnergy = EnergyOf(Absolute);

    /// <param name="blocks">Energies of blocks of 400 ms that overlap by three quarters.</param>
    public static double? Integrated(IReadOnlyCollection<double> blocks)
    {
        double mean = MeanAbove(blocks, AbsoluteEnergy);
        return mean > 0 ? InLufs(MeanAbove(blocks, Math.Max(AbsoluteEnergy, mean * RelativeOfIntegrated))) : null;
    }

    /// <param name="blocks">Energies of blocks of 3 s.</param>
    public static double? Range(IReadOnlyCollection<double> blocks)
    {
        double mean = MeanAbove(blocks, AbsoluteEnergy);
        var loud = blocks.Where(energy => energy >= AbsoluteEnergy && energy >= mean * RelativeOfRange).Order().ToArray();
        return loud.Length == 0 ? null : InLufs(At(HighPercentile)) - InLufs(At(LowPercentile));

        double At(double percentile) => loud[(int)((loud.Length - 1) * percentile + 0.5)];
    }

    private static double MeanAbove(IReadOnlyCollection<double> blocks, double gate)
    {
        double sum = 0;
        int count = 0;
        foreach (double energy in blocks)
        {
            if (energy < gate)
                continue;
            sum += energy;
            count++;
        }

        return count == 0 ? 0 : sum / count;
    }
}
