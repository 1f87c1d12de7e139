using System.Numerics;

namespace Wergamon.Core.Music;

/// <summary>
/// How strongly new pitches sound, some 50 times a second: the growth of logarithmic magnitudes in semitones over a tenth of a second.
/// It hears what begins softly, as strings do, and what <see cref="OnsetStrength"/> takes for a change of loudness.
/// </summary>
internal sealed class PitchOnsets
{
    private const double FramesPerSecond = 50;
    private const double WindowSeconds = 0.18;
    private const double LowestHertz = 100, HighestHertz = 5000;
    private const int BandsPerOctave = 12;

    /// <summary>Frames between which growth is measured.</summary>
    private const int Lag = 5;

    private const float Compression = 1000;

    private readonly SpectrumFrames _frames;
    private readonly (int From, int To)[] _bands;
    private readonly float[][] _before;
    private readonly List<float> _strengths = [];

    public PitchOnsets(int rate)
    {
        int hop = Math.Max(1, (int)Math.Round(rate / FramesPerSecond));
        int length = (int)BitOperations.RoundUpToPowerOf2((uint)Math.Max(256, rate * WindowSeconds * 0.75));
        _frames = new SpectrumFrames(length, hop, Take);
        // A frame that tells of growth since five frames ago tells of the middle between them.
        _frames.Append(new float[length / 2]);
        Rate = (double)rate / hop;
        _bands = FrequencyBands.Of(LowestHertz, HighestHertz, BandsPerOctave, length, rate);
        _before = [.. Enumerable.Range(0, Lag).Select(_ => new float[_bands.Length])];
    }

    /// <summary>Strengths a second.</summary>
    public double Rate { get; }

    /// <summary>The first belongs to half the lag before the start of the signal.</summary>
    public IReadOnlyList<float> Strengths => _strengths;

    /// <summary>Seconds from the start of the signal to the first strength.</summary>
    public double Start => -0.5 * Lag / Rate;

    public void Append(ReadOnlySpan<float> mono) => _frames.Append(mono);

    public void Finish() => _frames.Finish();

    private void Take(ReadOnlySpan<float> magnitudes)
    {
        var before = _before[_strengths.Count % Lag];
        float growth = 0;
        for (int band = 0; band < before.Length; band++)
        {
            float now = MathF.Log(1 + Compression * FrequencyBands.Sum(magnitudes, _bands[band]));
            growth += Math.Max(0, now - before[band]);
            before[band] = now;
        }

        _strengths.Add(growth / before.Length);
    }
}
