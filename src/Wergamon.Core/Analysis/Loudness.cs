using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis;

/// <summary>Loudness of a piece of audio.</summary>
/// <param name="Integrated">Gated loudness of the whole in LUFS (ITU-R BS.1770-4); null where everything is below the gate of -70
/// LUFS.</param>
/// <param name="Range">Loudness range in LU (EBU Tech 3342); null where too little is above its gates.</param>
/// <param name="TruePeak">Greatest magnitude between and at the samples, linear; full scale is 1.</param>
/// <param name="Blocks">Distribution of its blocks, so that tracks can be taken as one; see <see cref="LoudnessHistogram"/>.</param>
public sealed record Loudness(double? Integrated, double? Range, double TruePeak, byte[] Blocks)
{
    /// <summary>True peak in dBTP; negative infinity for silence.</summary>
    public double TruePeakDecibels => Decibels.FromGain(TruePeak);

    /// <summary>Several tracks as one, as an album is heard.</summary>
    public static Loudness OfAll(IReadOnlyCollection<Loudness> tracks)
    {
        var all = new LoudnessHistogram();
        foreach (var track in tracks)
            all.Add(track.Blocks);
        return new Loudness(all.Integrated, null, tracks.Max(track => track.TruePeak), all.ToBytes());
    }
}
