namespace Wergamon.Core.Music;

/// <summary>
/// How strongly something new sounds, some 200 times a second: the growth of logarithmic magnitudes in bands, against the greatest of
/// the neighbouring bands a moment before, so that vibrato counts little (Böck and Widmer, Maximum filter vibrato suppression for
/// onset detection, DAFx 2013).
/// </summary>
internal sealed class OnsetStrength
{
    private const double FramesPerSecond = 200;
    private const double WindowSeconds = 0.046;
    private const double LowestHertz = 30, HighestHertz = 16_000;
    private const int BandsPerOctave = 8;

    /// <summary>Frames between which growth is measured: a third of a window.</summary>
    private const int Lag = 3;

    /// <summary>Below this, drums and basses mark the beat.</summary>
    private const double LowHertz = 160;

    /// <summary>Factor on magnitudes before the logarithm, for full scale 1.</summary>
    private const float Compression = 1000;

    private readonly SpectrumFrames _frames;
    private readonly (int From, int To)[] _bands;
    private readonly float[][] _before;
    private readonly List<float> _strengths = [];
    private readonly List<float> _lows = [];
    private readonly double _hertzPerBin;
    private double _brightness, _magnitude;

    /// <param name="rate">Samples a second.</param>
    public OnsetStrength(int rate)
    {
        int hop = Math.Max(1, (int)Math.Round(rate / FramesPerSecond));
        int length = Math.Max(64, (int)System.Numerics.BitOperations.RoundUpToPowerOf2((uint)(rate * WindowSeconds * 0.75)));
        _frames = new SpectrumFrames(length, hop, Take);
        _hertzPerBin = (double)rate / length;
        Rate = (double)rate / hop;
        // What sounds at once has silence before it.
        _frames.Append(new float[length / 2]);
        _bands = FrequencyBands.Of(LowestHertz, HighestHertz, BandsPerOctave, length, rate);
        _before = [.. Enumerable.Range(0, Lag).Select(_ => new float[_bands.Length])];
    }

    /// <summary>Strengths a second.</summary>
    public double Rate { get; }

    /// <summary>The first belongs to the start of the signal.</summary>
    public IReadOnlyList<float> Strengths => _strengths;

    /// <summary>Growth of the lowest magnitudes, not compressed, frame by frame.</summary>
    public IReadOnlyList<float> Lows => _lows;

    /// <summary>Mean frequency of all that sounds, each frame weighted by its magnitude, in Hz; 0 for silence.</summary>
    public double Brightness => _magnitude > 0 ? _brightness / _magnitude : 0;

    public void Append(ReadOnlySpan<float> mono) => _frames.Append(mono);

    public void Finish() => _frames.Finish();

    private void Take(ReadOnlySpan<float> magnitudes)
    {
        int slot = _strengths.Count % Lag;
        var before = _before[slot];
        Span<float> now = stackalloc float[_bands.Length];
        float growth = 0, low = 0;
        for (int band = 0; band < now.Length; band++)
        {
            float sum = FrequencyBands.Sum(magnitudes, _bands[band]);
            _magnitude += sum;
            _brightness += sum * _hertzPerBin * 0.5 * (_bands[band].From + _bands[band].To);
            now[band] = MathF.Log(1 + Compression * sum);
            float greatest = before[band];
            if (band > 0)
                greatest = Math.Max(greatest, before[band - 1]);
            if (band + 1 < now.Length)
                greatest = Math.Max(greatest, before[band + 1]);
            growth += Math.Max(0, now[band] - greatest);
            if (_bands[band].To * _hertzPerBin < LowHertz)
                low += sum - (MathF.Exp(before[band]) - 1) / Compression;
        }

        now.CopyTo(before);
        _strengths.Add(growth / now.Length);
        _lows.Add(Math.Max(0, low));
    }
}
