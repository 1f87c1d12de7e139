namespace Wergamon.Core.Music;

/// <summary>A spectrum summed up in bands that are equally wide to the ear.</summary>
internal static class FrequencyBands
{
    /// <summary>
    /// The bins of each band from the lowest up, the second number being the first that is no longer in it; bands narrower than a bin are
    /// left out.
    /// </summary>
    /// <param name="length">Samples of a frame, whose spectrum has half as many bins.</param>
    /// <param name="rate">Samples a second; bands end well below half of it.</param>
    public static (int From, int To)[] Of(double lowestHertz, double highestHertz, int perOctave, int length, int rate)
    {
        double octaves = Math.Log2(Math.Min(highestHertz, 0.45 * rate) / lowestHertz);
        int[] edges = [
            .. Enumerable.Range(0, (int)(octaves * perOctave) + 1)
                .Select(edge => (int)Math.Round(lowestHertz * Math.Pow(2, (double)edge / perOctave) * length / rate))
        ];
        return [.. edges.Zip(edges.Skip(1)).Where(band => band.Second > band.First)];
    }

    public static float Sum(ReadOnlySpan<float> magnitudes, (int From, int To) band)
    {
        float sum = 0;
        foreach (float magnitude in magnitudes[band.From..band.To])
            sum += magnitude;
        return sum;
    }
}
