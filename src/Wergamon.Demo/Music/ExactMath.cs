namespace Wergamon.Demo.Music;

/// <summary>
/// The functions that the synthesis needs, from additions and multiplications alone. Those are the same on every
/// machine (IEEE 754); those of the C library need not be. So the demo music has the same bytes everywhere.
/// </summary>
internal static class ExactMath
{
    private const int TableBits = 12;
    private const int TableSize = 1 << TableBits;
    private const double SemitoneRatio = 1.0594630943592953;
    private static readonly double[] SineTable = BuildSineTable();

    /// <summary>Sine of a phase counted in turns, 0 or more.</summary>
    public static double Sine(double turns)
    {
        double place = (turns - (long)turns) * TableSize;
        int index = (int)place;
        double part = place - index;
        return SineTable[index] + (SineTable[index + 1] - SineTable[index]) * part;
    }

    /// <summary>Frequency in Hz of a MIDI note number, A4 = 69 = 440 Hz, equal temperament.</summary>
    public static double Frequency(int note)
    {
        double frequency = 440;
        for (int i = 69; i < note; i++)
            frequency *= SemitoneRatio;
        for (int i = 69; i > note; i--)
            frequency /= SemitoneRatio;
        return frequency;
    }

    /// <summary>Factor per sample that decays to a thousandth in a given time.</summary>
    public static double DecayFactor(double seconds, int rate)
    {
        // (1 - x/n)^n: exact enough, and without the logarithm.
        return 1 - 6.907755278982137 / (seconds * rate);
    }

    /// <summary>Soft clipping to -1 to 1; a rational approximation of tanh.</summary>
    public static double SoftLimit(double x)
    {
        x = Math.Clamp(x, -3, 3);
        return x * (27 + x * x) / (27 + 9 * x * x);
    }

    private static double[] BuildSineTable()
    {
        var table = new double[TableSize + 1];
        for (int i = 0; i <= TableSize; i++)
        {
            double x = 2 * Math.PI * i / TableSize;
            x = x > Math.PI ? x - 2 * Math.PI : x;
            double sum = 0, term = x;
            for (int n = 1; n < 30; n += 2)
            {
                sum += term;
                term *= -x * x / ((n + 1) * (n + 2));
            }

            table[i] = sum;
        }

        return table;
    }
}
