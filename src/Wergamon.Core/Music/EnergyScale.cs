namespace Wergamon.Core.Music;

/// <summary>What the energy of a track is made of.</summary>
/// <param name="Loudness">Integrated, in LUFS.</param>
/// <param name="OnsetsPerSecond">As <see cref="MusicAnalysis.OnsetsPerSecond"/>.</param>
/// <param name="Brightness">As <see cref="MusicAnalysis.Brightness"/>.</param>
public readonly record struct EnergyFacts(double Loudness, double OnsetsPerSecond, double Brightness);

/// <summary>
/// Energy from 1 to 5 relative to a library: each of the three facts counts by the share of tracks that have less of it, loudness and
/// onsets twice and brightness once; a fifth of a full scale is a step. <em>The rule is ours: no source.</em>
/// </summary>
public sealed class EnergyScale
{
    /// <summary>With fewer tracks a library says too little; a usual range is used instead.</summary>
    private const int FewTracks = 10;

    private static readonly EnergyFacts Least = new(-30, 0.5, 500), Most = new(-6, 6, 4000);

    private readonly double[] _loudness;
    private readonly double[] _onsets;
    private readonly double[] _brightness;

    public EnergyScale(IReadOnlyCollection<EnergyFacts> library)
    {
        _loudness = Sorted(library.Select(each => each.Loudness));
        _onsets = Sorted(library.Select(each => each.OnsetsPerSecond));
        _brightness = Sorted(library.Select(each => each.Brightness));
    }

    public int Of(EnergyFacts track)
    {
        double share = 0.4 * Share(_loudness, track.Loudness, Least.Loudness, Most.Loudness)
            + 0.4 * Share(_onsets, track.OnsetsPerSecond, Least.OnsetsPerSecond, Most.OnsetsPerSecond)
            + 0.2 * Share(_brightness, track.Brightness, Least.Brightness, Most.Brightness);
        return Math.Clamp(1 + (int)(5 * share), 1, 5);
    }

    private static double[] Sorted(IEnumerable<double> values) => [.. values.Order()];

    private static double Share(double[] sorted, double value, double least, double most)
    {
        if (sorted.Length < FewTracks)
            return Math.Clamp((value - least) / (most - least), 0, 1);
        int below = Array.BinarySearch(sorted, value);
        return (double)(below < 0 ? ~below : below) / sorted.Length;
    }
}
