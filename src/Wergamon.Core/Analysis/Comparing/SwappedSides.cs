using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>Whether the left channel of one stereo sound is the right channel of another, both aligned.</summary>
public static class SwappedSides
{
    private const int Sections = 5, Frames = AlignedSound.BlockFrames;

    /// <summary>
    /// The sides are swapped if exchanging them leaves at most this share of the residue, and if the residue before is at least this share
    /// of the sound.
    /// </summary>
    private const double MaxShare = 0.1, MinLeft = 0.001;

    /// <param name="first">Stays open, as does the second.</param>
    /// <param name="second">Of the same rate and channels.</param>
    /// <param name="place">Where it lies.</param>
    public static bool Are(ISeekablePcm first, ISeekablePcm second, AlignedPair place)
    {
        if (first.Format.Channels != 2)
            return false;
        var sound = new AlignedSound(first, second, (long)Math.Round(place.Offset + place.Fraction), 1);
        var overlap = sound.Overlap;
        var (left, right, otherLeft, otherRight) = (new float[Frames], new float[Frames], new float[Frames], new float[Frames]);
        double energy = 0, plain = 0, swapped = 0;
        for (int section = 1; section <= Sections && overlap.Count >= Frames; section++)
        {
            sound.ReadBoth(overlap.Start + (overlap.Count - Frames) * section / (Sections + 1), Frames);
            Split(sound.First, left, right);
            Split(sound.Second, otherLeft, otherRight);
            energy += Products.Energy(left) + Products.Energy(right);
            plain += Products.Residue(left, otherLeft) + Products.Residue(right, otherRight);
            swapped += Products.Residue(left, otherRight) + Products.Residue(right, otherLeft);
        }

        return plain > MinLeft * energy && swapped < MaxShare * plain;
    }

    private static void Split(ReadOnlySpan<float> stereo, float[] left, float[] right)
    {
        for (int i = 0; i < left.Length; i++)
            (left[i], right[i]) = (stereo[2 * i], stereo[2 * i + 1]);
    }
}
