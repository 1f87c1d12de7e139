namespace Wergamon.Core.Music;

/// <summary>A grid of evenly spaced beats.</summary>
/// <param name="BeatsPerMinute">More than 0.</param>
/// <param name="FirstBeat">Seconds from the start of the file to the first beat that sounds.</param>
public readonly record struct BeatGrid(double BeatsPerMinute, double FirstBeat)
{
    public double Period => 60 / BeatsPerMinute;

    /// <summary>Time of a beat, counted from 0.</summary>
    public double At(int beat) => FirstBeat + beat * Period;

    /// <summary>The beat nearest to a time, none before the start of the file.</summary>
    public double Nearest(double seconds)
    {
        double beat = Math.Round((seconds - FirstBeat) / Period);
        return At((int)Math.Max(beat, Math.Ceiling(-FirstBeat / Period)));
    }
}

/// <summary>The measured tempo of a piece.</summary>
/// <param name="Grid">Tempo and first beat; for a drifting tempo those of its middle.</param>
/// <param name="Confidence">0 to 1: how much of what sounds new keeps to the beat.</param>
/// <param name="Lowest">Slowest stretch in beats a minute; equal to <paramref name="Highest"/> where the tempo is steady.</param>
/// <param name="Highest">Fastest stretch.</param>
/// <param name="Alternatives">Other tempos that fit the same beats, the likeliest first: half, double, and where they fit, thirds.</param>
public sealed record Tempo(BeatGrid Grid, double Confidence, double Lowest, double Highest, IReadOnlyList<double> Alternatives)
{
    public bool IsSteady => Lowest == Highest;
}
