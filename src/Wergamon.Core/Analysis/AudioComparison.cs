using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis;

/// <summary>Null test that finds offset and gain first: aligns two signals, matches their levels and subtracts one from the other.</summary>
public static class AudioComparison
{
    /// <summary>Maximum offset, and the length of the section used to find it.</summary>
    private static readonly TimeSpan Reach = TimeSpan.FromSeconds(2), Stretch = TimeSpan.FromSeconds(3);

    /// <summary>A second with a residue below this, relative to the whole signal, counts as equal.</summary>
    private const double EqualDecibels = -80;

    /// <param name="openFirst">Opens the first file. Called once per pass; each result is disposed of here.</param>
    /// <param name="openSecond">The same for the second. Its sample rate may differ, its channel count may not.</param>
    /// <param name="report">Called with the frames compared so far.</param>
    /// <returns>Null when channel counts differ or the signals are too short to align.</returns>
    public static AudioDifference? Compare(Func<IPcmReader> openFirst, Func<IPcmReader> openSecond, Action<long> report)
    {
        using var first = new FloatStream(openFirst());
        var rate = first.Format.Rate;
        using var second = new FloatStream(AtRate(openSecond(), rate));
        if (first.Format.Channels != second.Format.Channels)
            return null;
        if (FindShift(openFirst, openSecond, rate) is not { } shift)
            return null;
        if (shift < 0)
            first.Skip(-shift);
        else
            second.Skip(shift);
        var sums = Sum(first, second, report);
        return Conclude(sums, shift, rate.Hertz);
    }

    private static IPcmReader AtRate(IPcmReader reader, SampleRate rate) => reader.Format.Rate == rate ? reader : new ResamplingReader(reader, rate);

    /// <summary>The offset is searched for in the loudest section of the first signal.</summary>
    private static int? FindShift(Func<IPcmReader> openFirst, Func<IPcmReader> openSecond, SampleRate rate)
    {
        int stretch = (int)(Stretch.TotalSeconds * rate.Hertz) / 8 * 8;
        int reach = (int)(Reach.TotalSeconds * rate.Hertz) / 8 * 8;
        long start;
        using (var reader = new FloatStream(openFirst()))
            start = Loudest(reader, stretch);
        if (start < 0)
            return null;
        using var first = new FloatStream(openFirst());
        using var second = new FloatStream(AtRate(openSecond(), rate));
        first.Skip(start);
        var one = first.ReadMono(stretch, before: 0);
        long from = start - reach;
        second.Skip(Math.Max(0, from));
        var other = second.ReadMono(stretch + 2 * reach, before: (int)Math.Max(0, -from));
        return Alignment.Find(one, other, reach);
    }

    private static long Loudest(FloatStream reader, int stretch)
    {
        (long best, double greatest) = (-1, 0);
        for (long start = 0; ; start += stretch)
        {
            var mono = reader.ReadMono(stretch, before: 0);
            double energy = 0;
            foreach (float sample in mono)
                energy += sample * sample;
            if (energy > greatest)
                (best, greatest) = (start, energy);
            if (reader.IsAtEnd)
                return best;
        }
    }

    /// <summary>Auto and cross products of both signals, per second.</summary>
    private static List<Products> Sum(FloatStream first, FloatStream second, Action<long> report)
    {
        int frames = first.Format.Rate.Hertz;
        var sums = new List<Products>();
        var (one, other) = (new float[frames * first.Format.Channels], new float[frames * first.Format.Channels]);
        while (true)
        {
            int count = Math.Min(first.Read(one), second.Read(other));
            if (count == 0)
                return sums;
            sums.Add(Products.Of(one.AsSpan(0, count), other.AsSpan(0, count)));
            report((long)sums.Count * frames);
        }
    }

    private static AudioDifference Conclude(List<Products> sums, int shift, int rate)
    {
        var all = sums.Aggregate(new Products(0, 0, 0), (sum, each) => sum + each);
        double gain = all.First == 0 ? 1 : all.Both / all.First;
        double level = all.First / Math.Max(1, sums.Count) * gain * gain;
        double residue = all.ResidueAt(gain);
        var differing = Enumerable.Range(0, sums.Count).Where(second => Decibels(sums[second].ResidueAt(gain), level) > EqualDecibels).ToList();
        // If most seconds cancel at a gain other than the overall one, a part was edited; that part must not set the gain.
        if (differing.Count > 0 && MedianGain(sums) is { } median && median != 0)
        {
            var atMedian = Enumerable.Range(0, sums.Count).Where(second => Decibels(sums[second].ResidueAt(median), level) > EqualDecibels).ToList();
            if (atMedian.Count < differing.Count)
                (gain, residue, differing) = (median, all.ResidueAt(median), atMedian);
        }

        return new AudioDifference(
            TimeSpan.FromSeconds((double)shift / rate),
            shift,
            Decibels(gain * gain, 1),
            gain < 0,
            Decibels(residue, all.First * gain * gain),
            differing.Count == 0 ? null : TimeSpan.FromSeconds(differing[0] + Math.Max(0.0, -shift) / rate),
            differing.Count == 0 ? null : TimeSpan.FromSeconds(differing[^1] + 1 + Math.Max(0.0, -shift) / rate),
            TimeSpan.FromSeconds(sums.Count));
    }

    private static double? MedianGain(List<Products> sums)
    {
        var gains = sums.Where(sum => sum.First > 0).Select(sum => sum.Both / sum.First).Order().ToList();
        return gains.Count == 0 ? null : gains[gains.Count / 2];
    }

    private static double Decibels(double energy, double against) => energy <= 0 ? double.NegativeInfinity : against <= 0 ? 0 : 10 * Math.Log10(energy / against);

    /// <param name="First">Energy of the first signal.</param>
    /// <param name="Second">Energy of the second.</param>
    /// <param name="Both">Their product.</param>
    private readonly record struct Products(double First, double Second, double Both)
    {
        public static Products operator +(Products one, Products other) => new(one.First + other.First, one.Second + other.Second, one.Both + other.Both);

        public static Products Of(ReadOnlySpan<float> one, ReadOnlySpan<float> other)
        {
            double first = 0, second = 0, both = 0;
            for (int i = 0; i < one.Length; i++)
            {
                first += (double)one[i] * one[i];
                second += (double)other[i] * other[i];
                both += (double)one[i] * other[i];
            }

            return new Products(first, second, both);
        }

        /// <summary>Energy of the second signal minus the first at this gain. Rounding may leave it slightly negative.</summary>
        public double ResidueAt(double gain)
        {
            double residue = Second - 2 * gain * Both + gain * gain * First;
            return residue <= 1e-12 * Second ? 0 : residue;
        }
    }
}
