using System.Numerics;
using System.Runtime.InteropServices;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Resampling;

namespace Wergamon.Core.Analysis.Comparing;

/// <summary>Finds how two recordings of one sound are aligned: offset, drift and polarity.</summary>
/// <remarks>
/// <para>
/// The difference of two signals says something only if they lie on top of each other to a small part of a sample: at 10 kHz and 44.1 kHz,
/// a tenth of a sample leaves a residue of about -17 dB. But an encoder delays by a thousand samples, a rip by seconds, and a record that
/// was played into a computer runs at another speed. Searching all of that to a fraction of a sample would take hours. So it is
/// narrowed down in steps, each on the result of the one before.
/// </para>
/// <list type="number">
/// <item>As they stand: many pairs have no offset. Sections that are nearly equal at once end the search.</item>
/// <item>
/// Coarse: sections of the first signal, averaged over a few frames, are searched for in the second within <see cref="Reach"/>
/// by cross-correlation through the Fourier transform. Rhythmic music is alike at many places, so the best few are kept, not one.
/// </item>
/// <item>
/// Fine: each candidate is corrected to the sample on full resolution, and judged by how well the other sections agree at the same
/// offset. Where two are equally good, the smaller offset wins.
/// </item>
/// <item>
/// Speed: where nothing fits everywhere, one recording may run faster. Speeds are tried in steps small enough for a section to stay in
/// phase, then the line through the offsets of all sections gives the drift.
/// </item>
/// <item>Fraction: at the places found, the second signal is interpolated to find the offset between two samples.</item>
/// </list>
/// <para>
/// A negative correlation of the same size is the same sound with its polarity inverted, and counts as a find. With no
/// correlation worth believing there is none: the caller says that the recordings differ instead of subtracting noise.
/// </para>
/// </remarks>
public sealed class Alignment
{
    /// <summary>Maximum offset that is searched for.</summary>
    public static readonly TimeSpan Reach = TimeSpan.FromSeconds(10);

    private const int SectionFrames = 1 << 16, Sections = 5, MinFrames = 512, Candidates = 8;

    /// <summary>Frames averaged for the search of a place, and for the search of a speed.</summary>
    private const int Coarse = 8, VeryCoarse = 32;

    /// <summary>Frames on each side of a place in which it is looked for to the sample.</summary>
    private const int MaxMargin = Coarse + 4;

    /// <summary>Places that are this alike are one as good as another; then the smaller offset counts.</summary>
    private const double Tie = 0.0005;

    /// <summary>
    /// Speeds that are tried, and the step between them: small enough for a section to stay in phase up to some hundred hertz.
    /// </summary>
    private const double MaxSpeedChange = 0.1, SpeedStep = 0.0006;

    /// <summary>Candidates with less than this share of the best correlation are not refined.</summary>
    private const double WorthTrying = 0.75;

    /// <summary>A correlation that leaves no doubt, and the least with which a speed is believed.</summary>
    private const double Certain = 0.7, MinAtSpeed = 0.5;

    /// <summary>
    /// Sections that are this alike as they stand are not looked for elsewhere: without the low end, or nearly so and as a whole, where
    /// an encoder has changed the high end.
    /// </summary>
    private const double InPlace = 0.97, NearlyInPlace = 0.9, InPlaceAsWhole = 0.995;

    /// <summary>A delay of less than this leaves nothing within 16 bits.</summary>
    private const double MinDelay = 0.0002;

    /// <summary>A drift of less than this over the whole signal is none.</summary>
    private const double MinDriftFrames = 0.1;

    /// <summary>How far from the start a speed is searched for.</summary>
    private static readonly TimeSpan SpeedSearch = TimeSpan.FromMinutes(2);

    /// <summary>What a shift by a fraction of a sample has to gain, as a ratio of energies: 1 dB.</summary>
    private const double MinGain = 0.794;

    private readonly MonoSource _first, _second;
    private readonly int _rate, _section;
    private readonly List<long> _starts;
    private readonly Dictionary<long, float[]> _sharpened = [];
    private readonly Dictionary<int, PhaseDelay> _phases = [];
    private readonly Dictionary<(long Start, long Offset), Complex[]> _crosses = [];

    /// <summary>A section of the second with what is around it.</summary>
    private readonly float[] _within;

    private Alignment(ISeekablePcm first, ISeekablePcm second)
    {
        (_first, _second, _rate) = (new MonoSource(first), new MonoSource(second), first.Format.Rate.Hertz);
        _section = (int)Math.Min(SectionFrames, Math.Min(first.FrameCount, second.FrameCount) / VeryCoarse * VeryCoarse);
        _within = new float[_section + 2 * MaxMargin];
        _starts = _section < MinFrames ? [] : Loudest();
    }

    /// <param name="first">Of the same rate and channels as <paramref name="second"/>.</param>
    /// <param name="second">Is moved against the first.</param>
    /// <returns>The best place; its correlation says how good that is. Null when one of them is silent or very short.</returns>
    public static AlignedPair? Find(ISeekablePcm first, ISeekablePcm second)
    {
        var search = new Alignment(first, second);
        if (search._starts.Count == 0)
            return null;
        var (found, start) = search.FindOffset();
        if (found.Correlation < Certain)
        {
            // One may run slightly faster, or much.
            if (search.Tune(start, found) is { } tuned && tuned.Correlation > found.Correlation)
                found = tuned;
            if (found.Correlation < Certain && search.FindSpeed() is { } other && other.Correlation > found.Correlation)
                found = other;
        }

        return !found.IsFound || search.IsExact(found) ? found : search.Refine(found);
    }

    /// <summary>The loudest section of each part of the first signal, the loudest of all first.</summary>
    private List<long> Loudest()
    {
        const int Tries = 8;
        long part = Math.Max(_section, _first.FrameCount / Sections);
        var found = new List<(long Start, double Energy)>();
        for (long from = 0; from + _section <= _first.FrameCount && found.Count < Sections; from += part)
        {
            long last = Math.Min(from + part, _first.FrameCount) - _section;
            var best = (Start: from, Energy: 0.0);
            for (long start = from; start <= last; start += Math.Max(_section, (last - from) / Tries + 1))
            {
                // The middle of it tells how loud it is.
                double energy = Products.Energy(_first.Read(start + _section * 2 / 5, Math.Max(MinFrames / 5, _section / 5)));
                if (energy > best.Energy)
                    best = (start, energy);
            }

            if (best.Energy > 0)
                found.Add(best);
        }

        return [.. found.OrderByDescending(each => each.Energy).Select(each => each.Start)];
    }

    /// <summary>
    /// The best offset at the same speed. A section that only one of them has shows nothing; then the next is looked for.
    /// </summary>
    private (AlignedPair Pair, long Start) FindOffset()
    {
        if (AsTheyStand() is { } same)
            return (same, _starts[0]);
        var best = new AlignedPair(0, 0, 1, 0, false);
        long bestStart = _starts[0];
        foreach (long start in _starts)
        {
            foreach (long coarse in Places(start))
            {
                var (offset, correlation) = Fine(start, coarse, MaxMargin);
                double others = Shared(offset)
                    .Where(other => other != start)
                    .Select(other => Math.Abs(Fine(other, offset, 2).Correlation))
                    .DefaultIfEmpty(Math.Abs(correlation))
                    .Average();
                // A drift, or a part that was edited, may hide what a single section shows.
                double all = Math.Max((Math.Abs(correlation) + others) / 2, 0.9 * Math.Abs(correlation));
                if (all > best.Correlation + Tie || all > best.Correlation - Tie && Math.Abs(offset) < Math.Abs(best.Offset))
                    (best, bestStart) = (new AlignedPair(offset, 0, 1, all, correlation < 0), start);
            }

            if (best.Correlation >= Certain)
                break;
        }

        return (best, bestStart);
    }

    /// <summary>The usual case: both start together. Null where any section is not nearly the same.</summary>
    private AlignedPair? AsTheyStand()
    {
        const int Around = 4;
        if (Shared(0).Count() < _starts.Count)
            return null;
        double sum = 0;
        foreach (long start in _starts)
        {
            var (offset, correlation) = Fine(start, 0, Around);
            double alike = offset == 0 ? Math.Abs(correlation) : 0;
            if (alike < NearlyInPlace || alike < InPlace && !IsInPlaceAsWhole(start))
                return null;
            sum += correlation;
        }

        return new AlignedPair(0, 0, 1, Math.Abs(sum) / _starts.Count, sum < 0);
    }

    private bool IsInPlaceAsWhole(long start) =>
        Math.Abs(Products.Correlation(_first.Section(start, _section), _second.Section(start, _section))) >= InPlaceAsWhole;

    /// <summary>Whether nothing is left in any section, so that there is nothing to refine.</summary>
    private bool IsExact(AlignedPair pair) =>
        pair.IsWhole
            && Shared(pair.Offset)
                .All(start => Products.Residue(_first.Section(start, _section), _second.Section(start + pair.Offset, _section)) == 0);

    /// <summary>The sections that both have when the second is late by some frames.</summary>
    private IEnumerable<long> Shared(long offset) =>
        _starts.Where(start => start + offset >= 0 && start + offset + _section <= _second.FrameCount);

    /// <summary>Offsets in frames at which a section is found again, on a coarse scale; the best first.</summary>
    private IEnumerable<long> Places(long start)
    {
        int reach = (int)(Reach.TotalSeconds * _rate / Coarse), section = _section / Coarse;
        var alike = new CrossCorrelation(
            _second.ReadCoarse(start - (long)reach * Coarse, section + 2 * reach, Coarse)).Of(_first.ReadCoarse(start, section, Coarse));
        double best = Math.Abs(alike[CrossCorrelation.Best(alike)]);
        return Enumerable.Range(0, alike.Length)
            .Where(
                i => alike[i] != 0 && Math.Abs(alike[i]) >= WorthTrying * best && (i == 0 || Math.Abs(alike[i]) >= Math.Abs(alike[i - 1]))
                    && (i == alike.Length - 1 || Math.Abs(alike[i]) > Math.Abs(alike[i + 1])))
            .OrderByDescending(i => Math.Abs(alike[i]))
            .Take(Candidates)
            .Select(i => (long)(i - reach) * Coarse);
    }

    /// <summary>To the sample, around an offset. The low end is left out, since its peak is too broad.</summary>
    private (long Offset, double Correlation) Fine(long start, long around, int margin)
    {
        var section = SharpenedSection(start);
        var within = _within.AsSpan(0, _section + 2 * margin);
        _second.Read(start + around - margin, within);
        Sharpen(within);
        double energy = Products.Energy(section);
        var best = (Offset: around, Correlation: 0.0);
        for (int place = 0; place <= 2 * margin; place++)
        {
            double alike = Products.Correlation(section, energy, within.Slice(place, _section));
            if (Math.Abs(alike) > Math.Abs(best.Correlation))
                best = (around - margin + place, alike);
        }

        return best;
    }

    /// <summary>
    /// Tries speeds from a tenth slower to a tenth faster, near the start where they have not led far apart; null where nothing is found.
    /// </summary>
    private AlignedPair? FindSpeed()
    {
        AlignedPair? best = null;
        foreach (long start in _starts.Where(start => start < SpeedSearch.TotalSeconds * _rate).Take(2))
        {
            int reach = (int)((Reach.TotalSeconds * _rate + MaxSpeedChange * (start + _section)) / VeryCoarse);
            var within = new CrossCorrelation(
                _second.ReadCoarse(start - (long)reach * VeryCoarse, _section / VeryCoarse + 2 * reach, VeryCoarse));
            var section = _first.ReadCoarse(start, _section / VeryCoarse, VeryCoarse);
            for (int step = (int)(-MaxSpeedChange / SpeedStep); step <= MaxSpeedChange / SpeedStep; step++)
            {
                double speed = 1 + step * SpeedStep;
                var alike = within.Of(Stretched(section, speed));
                int place = CrossCorrelation.Best(alike);
                if (Math.Abs(alike[place]) > (best?.Correlation ?? MinAtSpeed))
                    best = WithStart(
                        new AlignedPair(0, 0, speed, Math.Abs(alike[place]), alike[place] < 0),
                        start + (long)(place - reach) * VeryCoarse - start * speed);
            }

            if (best is not null)
                return Tune(start, best);
        }

        return best;
    }

    /// <summary>
    /// Follows the place through a section by short windows, in which a speed that is not quite right leads less far astray.
    /// </summary>
    private AlignedPair Tune(long start, AlignedPair pair)
    {
        const int Windows = 8;
        int length = _section / Windows;
        var places = new List<AlignedPoint>();
        // From the middle outwards.
        foreach (int window in Enumerable.Range(0, Windows).OrderBy(window => Math.Abs(2 * window + 1 - Windows)))
        {
            if (PlaceOf(start + window * length, length, pair, VeryCoarse * 4) is { } place)
                pair = Fit(places, place, pair);
        }

        var tuned = _second.ReadBetween(
            pair.Offset + pair.Fraction + start * pair.Speed, pair.Speed, _section, new SincInterpolator(pair.Speed));
        return pair with { Correlation = Math.Abs(Products.Correlation(Sharpened(_first.Section(start, _section)), Sharpened(tuned))) };
    }

    /// <summary>Follows the place through all sections, and fits a line to it: where it starts, and how fast it goes.</summary>
    private AlignedPair Refine(AlignedPair found)
    {
        var places = new List<AlignedPoint>();
        var pair = found;
        foreach (long start in Shared(found.Offset).OrderBy(start => found.Speed == 1 ? 0 : start))
        {
            if (PlaceOf(start, _section, IsSteady(pair) ? found : pair, 2048) is { } place)
                pair = Fit(places, place, pair);
        }

        if (places.Count == 0)
            return found;
        bool isSteady = IsSteady(pair) || places.Count < 2 && found.Speed == 1 || !IsStraight(places, pair);
        return isSteady ? Settle(found with { Speed = 1, Offset = (long)Math.Round(MedianOffset(places)) }) : pair;
    }

    private bool IsSteady(AlignedPair pair) => Math.Abs(pair.Speed - 1) * _first.FrameCount < MinDriftFrames;

    /// <summary>False where both drift in steps, as after a cut: no speed explains that.</summary>
    private static bool IsStraight(List<AlignedPoint> places, AlignedPair pair) =>
        places.All(place => Math.Abs(pair.Offset + pair.Fraction + place.First * pair.Speed - place.Second) < 2);

    /// <summary>Where the middle of a window is in the second signal; null if it is not found near the expected position.</summary>
    private AlignedPoint? PlaceOf(long start, int length, AlignedPair pair, int margin)
    {
        double at = pair.Offset + pair.Fraction + start * pair.Speed;
        var window = _first.Section(start, length);
        SincInterpolator? sinc = null;
        var here = At(at, length);
        // What is near already need not be searched for.
        if (Math.Abs(Products.Correlation(Sharpened(window), Sharpened(here))) < Certain)
        {
            at -= margin * pair.Speed;
            var alike = new CrossCorrelation(Sharpened(At(at, length + 2 * margin))).Of(Sharpened(window));
            int best = CrossCorrelation.Best(alike);
            if (Math.Abs(alike[best]) < AlignedPair.MinCorrelation)
                return null;
            at += best * pair.Speed;
            here = At(at, length);
        }

        var phase = PhaseOf(length);
        var cross = length == _section && IsWhole(at) ? CrossSpectrum(start, (long)at - start) : phase.CrossSpectrum(window, here);
        double middle = length / 2.0;
        return new AlignedPoint(
            start + middle, at + (phase.Delay(cross, pair.IsReversed) + middle) * pair.Speed, Math.Abs(Products.Correlation(window, here)));

        bool IsWhole(double place) => pair.Speed == 1 && place == Math.Floor(place);
        float[] At(double place, int count) =>
            IsWhole(place)
                ? _second.Section((long)place, count)
                : _second.ReadBetween(place, pair.Speed, count, sinc ??= new SincInterpolator(pair.Speed));
    }

    /// <summary>Adds a place and gives the line that fits all best, by least squares.</summary>
    private static AlignedPair Fit(List<AlignedPoint> places, AlignedPoint place, AlignedPair pair)
    {
        places.Add(place);
        double weights = places.Sum(each => each.Weight);
        double first = places.Sum(each => each.Weight * each.First) / weights,
            second = places.Sum(each => each.Weight * each.Second) / weights;
        double spread = places.Sum(each => each.Weight * (each.First - first) * (each.First - first));
        double speed = places.Count < 2 || spread == 0
            ? pair.Speed
            : places.Sum(each => each.Weight * (each.First - first) * (each.Second - second)) / spread;
        return WithStart(pair with { Speed = speed }, second - first * speed);
    }

    private static AlignedPair WithStart(AlignedPair pair, double start)
    {
        double whole = Math.Round(start);
        return pair with { Offset = (long)whole, Fraction = start - whole };
    }

    private static double MedianOffset(List<AlignedPoint> places)
    {
        var offsets = places.Select(place => place.Second - place.First).Order().ToList();
        return offsets[offsets.Count / 2];
    }

    /// <summary>Keeps whole frames unless a fraction makes both more alike.</summary>
    private AlignedPair Settle(AlignedPair pair)
    {
        var starts = Shared(pair.Offset).ToList();
        if (starts.Count == 0)
            return pair;
        var all = new Complex[CrossSpectrum(starts[0], pair.Offset).Length];
        foreach (var cross in starts.Select(start => CrossSpectrum(start, pair.Offset)))
        {
            for (int k = 0; k < all.Length; k++)
                all[k] += cross[k];
        }

        double delay = PhaseOf(_section).Delay(all, pair.IsReversed);
        if (Math.Abs(delay) is < MinDelay or > 1.5)
            return pair;
        var section = _first.Section(starts[0], _section);
        double whole = Products.Residue(section, _second.Section(starts[0] + pair.Offset, _section));
        double between = Products.Residue(
            section, _second.ReadBetween(starts[0] + pair.Offset + delay, 1, _section, new SincInterpolator(1)));
        return between < MinGain * whole ? WithStart(pair, pair.Offset + delay) : pair;
    }

    private PhaseDelay PhaseOf(int frames) => _phases.TryGetValue(frames, out var known) ? known : _phases[frames] = new PhaseDelay(frames);

    /// <summary>Of a whole section of the first and the one of the second that is late by some frames.</summary>
    private Complex[] CrossSpectrum(long start, long offset) => _crosses.TryGetValue((start, offset), out var known)
        ? known
        : _crosses[(start, offset)] = PhaseOf(_section)
            .CrossSpectrum(_first.Section(start, _section), _second.Section(start + offset, _section));

    private static float[] Stretched(float[] samples, double speed)
    {
        if (speed == 1)
            return samples;
        var result = new float[(int)((samples.Length - 1) * speed)];
        for (int i = 0; i < result.Length; i++)
        {
            double place = i / speed;
            int whole = (int)place;
            result[i] = samples[whole] + (samples[whole + 1] - samples[whole]) * (float)(place - whole);
        }

        return result;
    }

    private float[] SharpenedSection(long start) =>
        _sharpened.TryGetValue(start, out var known) ? known : _sharpened[start] = Sharpened(_first.Section(start, _section));

    /// <summary>A copy with less of the low end.</summary>
    private static float[] Sharpened(float[] samples)
    {
        float[] sharp = [.. samples];
        Sharpen(sharp);
        return sharp;
    }

    /// <summary>Takes from each sample most of the one before it, from the last to the first.</summary>
    private static void Sharpen(Span<float> samples)
    {
        const float Taken = 0.9f;
        ref float from = ref MemoryMarshal.GetReference(samples);
        int at = samples.Length, width = Vector<float>.Count;
        for (; at > width; at -= width)
        {
            nuint here = (nuint)(at - width);
            (Vector.LoadUnsafe(ref from, here) - Taken * Vector.LoadUnsafe(ref from, here - 1)).StoreUnsafe(ref from, here);
        }

        for (at--; at > 0; at--)
            samples[at] -= Taken * samples[at - 1];
        samples[0] = 0;
    }

    /// <summary>A frame of the first signal, and the position in the second that corresponds to it.</summary>
    private sealed record AlignedPoint(double First, double Second, double Weight);
}
