namespace Wergamon.Demo.Music;

/// <summary>The mix: one array of samples per channel, with positions for the players.</summary>
internal sealed class Stage
{
    public Stage(int rate, int channels, int frames)
    {
        Rate = rate;
        Lines = new double[channels][];
        for (int c = 0; c < channels; c++)
            Lines[c] = new double[frames];
    }

    public int Rate { get; }

    public double[][] Lines { get; }

    public int Frames => Lines[0].Length;

    private bool IsSurround => Lines.Length == 6;

    /// <summary>Panning gains of a player for each channel.</summary>
    /// <param name="place">-1 is left, 1 is right.</param>
    /// <param name="low">True for what also goes to the low-frequency channel.</param>
    public double[] GainsAt(double place, bool low = false)
    {
        double left = 0.5 * (1 - place) + 0.2, right = 0.5 * (1 + place) + 0.2;
        if (Lines.Length == 1)
            return [0.8];
        if (!IsSurround)
            return [left, right];
        double centre = place is > -0.2 and < 0.2 ? 0.6 : 0.1;
        return [left * 0.7, right * 0.7, centre, low ? 0.5 : 0, left * 0.25, right * 0.25];
    }

    /// <summary>Adds reverb: eight feedback delays, with lengths of their own for each channel.</summary>
    public void AddRoom(double amount, double seconds)
    {
        int[] lengths = [1557, 1617, 1491, 1422, 1277, 1356, 1188, 1116];
        for (int c = 0; c < Lines.Length; c++)
        {
            var dry = Lines[c];
            var wet = new double[dry.Length];
            for (int k = 0; k < lengths.Length; k++)
            {
                int length = (int)((lengths[k] + 23 * c) * (long)Rate / 44_100);
                double feedback = 1 - 6.9 * length / (seconds * Rate);
                var loop = new double[length];
                double damped = 0;
                for (int i = 0, at = 0; i < dry.Length; i++, at = at + 1 == length ? 0 : at + 1)
                {
                    double back = loop[at];
                    damped += (back - damped) * 0.6;
                    loop[at] = dry[i] + damped * feedback;
                    wet[i] += back;
                }
            }

            for (int i = 0; i < dry.Length; i++)
                dry[i] += wet[i] * amount / lengths.Length;
        }
    }

    /// <summary>Normalises the peak to a level, then soft-clips what exceeds it when driven.</summary>
    public void Master(double loudness)
    {
        double peak = Lines.Max(line => line.Max(Math.Abs));
        double gain = peak == 0 ? 0 : loudness / peak;
        foreach (var line in Lines)
        {
            for (int i = 0; i < line.Length; i++)
                line[i] = loudness > 0.95 ? 0.985 * ExactMath.SoftLimit(line[i] * gain) : line[i] * gain;
        }
    }
}
