namespace Wergamon.Core.Music;

/// <summary>
/// How strongly each pitch sounds, as a circle of one octave in tenths of a semitone: spectral peaks, each counted also for the notes
/// whose harmonics it may be (Gómez, Tonal description of polyphonic audio, INFORMS Journal on Computing 18, 2006).
/// </summary>
internal sealed class Chroma
{
    public const int PerSemitone = 10;
    public const int Size = 12 * PerSemitone;

    private const double FrameSeconds = 0.37, HopSeconds = 0.18;
    private const double LowestHertz = 55, HighestHertz = 2200;
    private const int Harmonics = 4;
    private const double HarmonicDecay = 0.6;

    private readonly SpectrumFrames _frames;
    private readonly double _hertzPerBin;
    private readonly double[] _sum = new double[Size];
    private readonly double[] _frame = new double[Size];

    public Chroma(int rate)
    {
        int length = (int)System.Numerics.BitOperations.RoundUpToPowerOf2((uint)Math.Max(256, rate * FrameSeconds * 0.75));
        _frames = new SpectrumFrames(length, Math.Max(1, (int)(rate * HopSeconds)), Take);
        _hertzPerBin = (double)rate / length;
    }

    /// <summary>Strength of each tenth of a semitone, from C of A = 440 Hz upwards.</summary>
    public IReadOnlyList<double> Values => _sum;

    public void Append(ReadOnlySpan<float> mono) => _frames.Append(mono);

    public void Finish() => _frames.Finish();

    private void Take(ReadOnlySpan<float> magnitudes)
    {
        Array.Clear(_frame);
        int from = Math.Max(2, (int)(LowestHertz / _hertzPerBin)), to = Math.Min(magnitudes.Length - 2, (int)(HighestHertz / _hertzPerBin));
        float greatest = 0;
        for (int bin = from; bin < to; bin++)
            greatest = Math.Max(greatest, magnitudes[bin]);
        if (greatest < 1e-5f)
            return;
        for (int bin = from; bin < to; bin++)
        {
            float at = magnitudes[bin];
            if (at < 0.01f * greatest || at <= magnitudes[bin - 1] || at < magnitudes[bin + 1])
                continue;
            double below = Math.Log(magnitudes[bin - 1] + 1e-9), here = Math.Log(at), above = Math.Log(magnitudes[bin + 1] + 1e-9);
            double bend = below - 2 * here + above;
            double place = bin + (bend < 0 ? Math.Clamp(0.5 * (below - above) / bend, -0.5, 0.5) : 0);
            double pitch = 69 + 12 * Math.Log2(place * _hertzPerBin / 440), weight = Math.Sqrt(at);
            for (int harmonic = 1; harmonic <= Harmonics; harmonic++, weight *= HarmonicDecay)
                Add(pitch - 12 * Math.Log2(harmonic), weight);
        }

        double sum = _frame.Sum();
        // Loud passages count more, though not in proportion.
        double scale = Math.Pow(greatest, 0.3) / Math.Max(sum, 1e-12);
        for (int i = 0; i < Size; i++)
            _sum[i] += _frame[i] * scale;
    }

    private void Add(double pitch, double weight)
    {
        int place = (int)Math.Round(pitch * PerSemitone) % Size;
        _frame[place < 0 ? place + Size : place] += weight;
    }
}
