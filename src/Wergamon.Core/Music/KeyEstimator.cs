namespace Wergamon.Core.Music;

/// <summary>The measured key of a piece.</summary>
/// <param name="Key">The likeliest.</param>
/// <param name="Second">The next likely.</param>
/// <param name="Confidence">0 to 1: by how much the first fits better than the second.</param>
/// <param name="Tuning">Frequency of A in Hz.</param>
public sealed record KeyEstimate(MusicalKey Key, MusicalKey Second, double Confidence, double Tuning);

/// <summary>
/// The key whose profile fits the pitches best: profiles of Krumhansl and Kessler, Tracing the dynamic changes in perceived tonal
/// organization, Psychological Review 89, 1982; correlated as in Krumhansl, Cognitive Foundations of Musical Pitch, 1990.
/// </summary>
internal static class KeyEstimator
{
    private static readonly double[] Major = [6.35, 2.23, 3.48, 2.33, 4.38, 4.09, 2.52, 5.19, 2.39, 3.66, 2.29, 2.88];
    private static readonly double[] Minor = [6.33, 2.68, 3.52, 5.38, 2.60, 3.53, 2.54, 4.75, 3.98, 2.69, 3.34, 3.17];

    /// <summary>Null for a piece without pitches.</summary>
    public static KeyEstimate? Estimate(IReadOnlyList<double> chroma)
    {
        if (chroma.All(value => value == 0))
            return null;
        double offset = OffsetOf(chroma);
        var classes = ClassesOf(chroma, offset);
        var ranked = MusicalKey.All.Select(key => (Key: key, Fit: Correlation(classes, key))).OrderByDescending(each => each.Fit).ToList();
        return new KeyEstimate(
            ranked[0].Key, ranked[1].Key, Math.Clamp((ranked[0].Fit - ranked[1].Fit) * 5, 0, 1), 440 * Math.Pow(2, offset / 12));
    }

    /// <summary>
    /// How far the pitches are above equal temperament at 440 Hz, in semitones from -0.5 to 0.5: the mean on the circle of a semitone.
    /// </summary>
    private static double OffsetOf(IReadOnlyList<double> chroma)
    {
        double re = 0, im = 0;
        for (int i = 0; i < chroma.Count; i++)
        {
            var (sine, cosine) = Math.SinCos(2 * Math.PI * i / Chroma.PerSemitone);
            re += chroma[i] * cosine;
            im += chroma[i] * sine;
        }

        return Math.Atan2(im, re) / (2 * Math.PI);
    }

    /// <summary>The twelve pitch classes, each tenth counted less the further it is from its class.</summary>
    private static double[] ClassesOf(IReadOnlyList<double> chroma, double offset)
    {
        var classes = new double[12];
        for (int i = 0; i < chroma.Count; i++)
        {
            double semitones = (double)i / Chroma.PerSemitone - offset;
            int nearest = (int)Math.Round(semitones);
            double weight = Math.Cos(Math.PI * (semitones - nearest));
            classes[(nearest % 12 + 12) % 12] += chroma[i] * weight * weight;
        }

        return classes;
    }

    private static double Correlation(double[] classes, MusicalKey key)
    {
        var profile = key.IsMinor ? Minor : Major;
        double mean = classes.Average(), profileMean = profile.Average(), product = 0, square = 0, profileSquare = 0;
        for (int i = 0; i < 12; i++)
        {
            double a = classes[(i + key.Root) % 12] - mean, b = profile[i] - profileMean;
            (product, square, profileSquare) = (product + a * b, square + a * a, profileSquare + b * b);
        }

        return product / Math.Sqrt(square * profileSquare + 1e-30);
    }
}
