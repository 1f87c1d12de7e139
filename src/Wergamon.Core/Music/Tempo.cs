namespace Wergamon.Core.Music;

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
