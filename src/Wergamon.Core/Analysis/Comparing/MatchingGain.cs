namespace Wergamon.Core.Analysis.Comparing;

/// <summary>The gain of the second of two aligned sounds that leaves the least residue, from blocks spread over what both have.</summary>
internal static class MatchingGain
{
    /// <summary>So many blocks fix the gain of any music far more closely than a residue that can be heard.</summary>
    private const int MaxBlocks = 160;

    /// <param name="sound">Not matched yet.</param>
    public static double Of(AlignedSound sound)
    {
        var overlap = sound.Overlap;
        long blocks = (overlap.Count + AlignedSound.BlockFrames - 1) / AlignedSound.BlockFrames;
        var found = new List<Energies>();
        int equal = 0;
        for (long i = 0, count = Math.Min(blocks, MaxBlocks); i < count; i++)
        {
            long start = blocks * i / count * AlignedSound.BlockFrames;
            sound.ReadBoth(overlap.Start + start, (int)Math.Min(AlignedSound.BlockFrames, overlap.Count - start));
            var block = new Energies(Products.Energy(sound.First), Products.Energy(sound.Second), Products.Sum(sound.First, sound.Second));
            // Silence is equal at any gain.
            if (block is { First: 0, Second: 0 })
                continue;
            equal += sound.First.SequenceEqual(sound.Second) ? 1 : 0;
            found.Add(block);
        }

        // Where most is equal already, an edited part does not count.
        return 2 * equal > found.Count ? 1 : Of(found);
    }

    /// <summary>The gain over all blocks, or that of most where a part was edited.</summary>
    private static double Of(List<Energies> blocks)
    {
        var all = blocks.Aggregate(default(Energies), (sum, each) => sum + each);
        if (all.Second == 0 || all.Both == 0)
            return 1;
        double gain = all.Both / all.Second;
        var gains = blocks.Where(block => block.Second > 0 && block.Both != 0).Select(block => block.Both / block.Second).Order().ToList();
        double median = gains[gains.Count / 2];
        double level = all.First / blocks.Count;
        return Differing(median) < Differing(gain) ? median : gain;

        int Differing(double at) => blocks.Count(block => PairEnergies.Differ(block.ResidueAt(at), level));
    }

    /// <param name="Both">Sum of the products of both.</param>
    private readonly record struct Energies(double First, double Second, double Both)
    {
        public static Energies operator +(Energies one, Energies other) =>
            new(one.First + other.First, one.Second + other.Second, one.Both + other.Both);

        /// <summary>Energy of the first minus the second at a gain; rounding may leave it slightly negative.</summary>
        public double ResidueAt(double gain)
        {
            double residue = First - 2 * gain * Both + gain * gain * Second;
            return residue <= 1e-12 * First ? 0 : residue;
        }
    }
}
