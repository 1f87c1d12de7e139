namespace Wergamon.Core.Analysis;

/// <summary>Bands of the spectra that are shown: from 20 Hz to half the sample rate, evenly on a logarithmic scale.</summary>
public static class SpectrumBands
{
    private const int Count = 240;

    private const double LowestHertz = 20;

    /// <summary>Edges in hertz, rising; one more than there are bands.</summary>
    public static IReadOnlyList<double> Edges(int rate)
    {
        double octaves = Math.Log2(rate / 2.0 / LowestHertz);
        return [.. Enumerable.Range(0, Count + 1).Select(band => Math.Round(LowestHertz * Math.Pow(2, octaves * band / Count), 2))];
    }
}
