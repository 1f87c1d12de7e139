using Wergamon.Core.Audio;

namespace Wergamon.Core.Music;

/// <summary>
/// Tempo and beats from onset strengths. The period comes from autocorrelation with a preference for moderate tempos (Ellis, Beat
/// tracking by dynamic programming, Journal of New Music Research 36, 2007); its exact value from the strongest pulse near it in the
/// Fourier transform of the strengths (Grosche and Müller, Extracting predominant local pulse information, IEEE TASLP 19, 2011).
/// </summary>
internal sealed class TempoEstimator
{
    private const double SlowestBeats = 50, FastestBeats = 210;

    /// <summary>Middle and width, in octaves, of the preference for moderate tempos.</summary>
    private const double UsualBeats = 118, UsualWidth = 0.9;

    private const double StretchSeconds = 12, StretchStepSeconds = 6;

    /// <summary>Tempos at which the same beats can be counted otherwise.</summary>
    private static readonly double[] Ratios = [0.5, 2, 2 / 3.0, 1.5, 1 / 3.0, 3];

    /// <summary>How much low attacks count when beats are distinguished from offbeats.</summary>
    private const float LowWeight = 2;

    /// <summary>How much new pitches count beside sudden attacks.</summary>
    private const float SoftWeight = 1;

    /// <summary>The same where sudden attacks do not keep to the beat, for its exact tempo.</summary>
    private const float MainlySoftWeight = 4;

    /// <summary>Share of sudden attacks on the beat from which they suffice.</summary>
    private const double ClearShare = 0.5;

    /// <summary>Share by which stretches may differ in a steady piece.</summary>
    private const double SteadyShare = 0.012;

    /// <summary>
    /// The same without clear attacks: what swells tells the time of a beat to a tenth of a second, so stretches are longer and differ
    /// more.
    /// </summary>
    private const double SoftSteadyShare = 0.03, SoftStretchSeconds = 20;

    private readonly float[] _sudden;
    private readonly float[] _strengths;
    private readonly float[] _mainlySoft;
    private readonly double _rate;
    private readonly float[] _marks;

    private TempoEstimator(OnsetStrength onsets, PitchOnsets pitches)
    {
        _rate = onsets.Rate;
        _sudden = Levelled(onsets.Strengths, _rate);
        var lows = Levelled(onsets.Lows, _rate);
        var soft = Levelled(pitches.Strengths, pitches.Rate);
        _marks = [.. _sudden.Select((strength, i) => strength + LowWeight * lows[i])];
        var softly = _sudden.Select((_, i) => Between(soft, (i / _rate - pitches.Start) * pitches.Rate)).ToArray();
        _strengths = [.. _sudden.Zip(softly, (strength, more) => strength + SoftWeight * more)];
        _mainlySoft = [.. _sudden.Zip(softly, (strength, more) => strength + MainlySoftWeight * more)];
    }

    private static float Between(float[] values, double place)
    {
        int at = Math.Clamp((int)place, 0, values.Length - 2);
        return values[at] + (values[at + 1] - values[at]) * (float)Math.Clamp(place - at, 0, 1);
    }

    /// <summary>Null for a piece that is too short or has no onsets.</summary>
    public static Tempo? Estimate(OnsetStrength onsets, PitchOnsets pitches)
    {
        if (onsets.Strengths.Count < 4 * onsets.Rate)
            return null;
        return new TempoEstimator(onsets, pitches).Estimate();
    }

    private Tempo? Estimate()
    {
        if (_strengths.All(strength => strength == 0))
            return null;
        var correlation = Autocorrelation();
        var candidates = CandidatesOf(correlation);
        if (candidates.Count == 0)
            return null;
        double rough = candidates[0].Beats;
        // Sudden attacks tell the time best where they keep to the beat.
        var whole = WholePulse(_sudden, rough);
        bool isClear = whole.Share >= ClearShare;
        whole = isClear ? (Fitted(whole.Beats), whole.Share) : WholePulse(_mainlySoft, rough);
        var stretches = isClear
            ? Stretches(_strengths, StretchSeconds, whole.Beats)
            : Stretches(_mainlySoft, SoftStretchSeconds, whole.Beats);
        double beats = whole.Beats, lowest = beats, highest = beats;
        if (stretches.Count > 2 && stretches[^1] / stretches[0] - 1 > (isClear ? SteadyShare : SoftSteadyShare))
        {
            (lowest, highest) = (stretches[0], stretches[^1]);
            beats = stretches[stretches.Count / 2];
        }

        var ratios = candidates.Skip(1)
            .Select(each => Ratios.FirstOrDefault(ratio => Math.Abs(each.Beats / rough / ratio - 1) < 0.02))
            .Where(ratio => ratio > 0)
            .Take(2);
        return new Tempo(
            new BeatGrid(beats, FirstBeat(beats)), whole.Share, lowest, highest,
            [.. ratios.Concat([0.5, 2]).Distinct().Select(ratio => ratio * beats)]);
    }

    /// <summary>The strengths above their surroundings, quiet stretches raised towards loud ones.</summary>
    private static float[] Levelled(IReadOnlyList<float> strengths, double rate)
    {
        int around = (int)(0.5 * rate), wide = (int)(4 * rate);
        var above = new float[strengths.Count];
        var sums = Sums(strengths);
        for (int i = 0; i < above.Length; i++)
            above[i] = (float)Math.Max(0, strengths[i] - MeanAround(sums, i, around));
        var squares = Sums([.. above.Select(value => value * value)]);
        double overall = Math.Sqrt(squares[^1] / above.Length);
        for (int i = 0; i < above.Length; i++)
            above[i] /= (float)(Math.Sqrt(MeanAround(squares, i, wide)) + 0.3 * overall + 1e-9);
        return above;
    }

    private static double[] Sums(IReadOnlyList<float> values)
    {
        var sums = new double[values.Count + 1];
        for (int i = 0; i < values.Count; i++)
            sums[i + 1] = sums[i] + values[i];
        return sums;
    }

    private static double MeanAround(double[] sums, int at, int width)
    {
        int from = Math.Max(0, at - width), to = Math.Min(sums.Length - 1, at + width + 1);
        return (sums[to] - sums[from]) / (to - from);
    }

    /// <summary>Mean autocorrelation of stretches, 1 at lag 0, up to four periods of the slowest tempo.</summary>
    private double[] Autocorrelation()
    {
        int lags = (int)(4 * 60 / SlowestBeats * _rate) + 2;
        int stretch = Math.Min(_strengths.Length, Math.Max(2 * lags, (int)(StretchSeconds * _rate)));
        int size = (int)System.Numerics.BitOperations.RoundUpToPowerOf2((uint)(stretch + lags));
        var fourier = new FourierTransform(size);
        double[] real = new double[size], imaginary = new double[size], sum = new double[lags];
        for (int start = 0; start == 0 || start + stretch <= _strengths.Length; start += Math.Max(1, stretch / 2))
        {
            Array.Clear(real);
            Array.Clear(imaginary);
            double mean = _strengths.AsSpan(start, stretch).ToArray().Average();
            for (int i = 0; i < stretch; i++)
                real[i] = _strengths[start + i] - mean;
            fourier.Forward(real, imaginary);
            for (int i = 0; i < size; i++)
                (real[i], imaginary[i]) = (real[i] * real[i] + imaginary[i] * imaginary[i], 0);
            fourier.Inverse(real, imaginary);
            for (int lag = 0; lag < lags; lag++)
                sum[lag] += real[lag] / (stretch - Math.Min(lag, stretch - 1));
        }

        double zero = Math.Max(sum[0], 1e-12);
        for (int lag = 0; lag < lags; lag++)
            sum[lag] /= zero;
        return sum;
    }

    /// <summary>Tempos at which the strengths repeat, the likeliest first.</summary>
    private List<(double Beats, double Score)> CandidatesOf(double[] correlation)
    {
        int from = (int)(60 / FastestBeats * _rate), to = (int)(60 / SlowestBeats * _rate) + 1;
        var scores = new double[to + 2];
        for (int lag = from; lag < scores.Length; lag++)
        {
            double octaves = Math.Log2(60 * _rate / lag / UsualBeats) / UsualWidth;
            double repeats = 0;
            for (int times = 1; times <= 4; times++)
                repeats += AtLag(correlation, times * lag, times) / 4;
            scores[lag] = Math.Max(0, repeats) * Math.Exp(-0.5 * octaves * octaves);
        }

        return
        [
            .. Enumerable.Range(from + 1, to - from)
                .Where(lag => scores[lag] > 0 && scores[lag] >= scores[lag - 1] && scores[lag] > scores[lag + 1])
                .Select(lag => (60 * _rate / (lag + Vertex(scores[lag - 1], scores[lag], scores[lag + 1])), scores[lag]))
                .OrderByDescending(each => each.Item2).Take(8),
        ];
    }

    /// <summary>The greatest value within what a lag that was rounded can be off after some periods.</summary>
    private static double AtLag(double[] correlation, int lag, int times)
    {
        double greatest = double.MinValue;
        for (int at = Math.Max(0, lag - times); at <= Math.Min(correlation.Length - 1, lag + times); at++)
            greatest = Math.Max(greatest, correlation[at]);
        return greatest == double.MinValue ? 0 : greatest;
    }

    /// <summary>Where a parabola through three values has its top, from -0.5 to 0.5.</summary>
    private static double Vertex(double before, double at, double after)
    {
        double bend = before - 2 * at + after;
        return bend < 0 ? Math.Clamp(0.5 * (before - after) / bend, -0.5, 0.5) : 0;
    }

    /// <summary>
    /// As <see cref="Pulse"/> for all of the piece: the longer the stretch, the closer its neighbours, so it grows by and by.
    /// </summary>
    private (double Beats, double Share) WholePulse(float[] strengths, double near)
    {
        int count = (int)Math.Min(_strengths.Length, 2 * StretchSeconds * _rate);
        for (double range = 0.03; ; range = 4 * 60 * _rate / count / 8 / near)
        {
            var pulse = Pulse(strengths, (_strengths.Length - count) / 2, count, near, range);
            if (count == _strengths.Length)
                return pulse;
            near = pulse.Beats;
            count = Math.Min(_strengths.Length, 2 * count);
        }
    }

    /// <summary>The tempo of the line through the sudden attacks next to each beat, each weighted by its strength.</summary>
    private double Fitted(double beats)
    {
        double period = 60 / beats * _rate, phase = PhaseOf(_sudden, period), reach = period / 8;
        double weights = 0, sumBeat = 0, sumTime = 0, sumBeats = 0, sumBoth = 0;
        for (int beat = 0; ; beat++)
        {
            double expected = phase + beat * period;
            int from = Math.Max(1, (int)(expected - reach)), to = (int)(expected + reach);
            if (to >= _sudden.Length - 1)
                break;
            int top = from;
            for (int i = from; i <= to; i++)
                top = _sudden[i] > _sudden[top] ? i : top;
            double weight = _sudden[top], time = top + Vertex(_sudden[top - 1], _sudden[top], _sudden[top + 1]);
            if (top == from || top == to)
                continue;
            weights += weight;
            sumBeat += weight * beat;
            sumTime += weight * time;
            sumBeats += weight * beat * beat;
            sumBoth += weight * beat * time;
        }

        double spread = weights * sumBeats - sumBeat * sumBeat;
        if (spread <= 0)
            return beats;
        double fitted = 60 * _rate / ((weights * sumBoth - sumBeat * sumTime) / spread);
        // A line that leaves the pulse has followed something else.
        return Math.Abs(fitted / beats - 1) < 0.002 ? fitted : beats;
    }

    /// <summary>The strongest pulse near a tempo, and the share of all strength that it explains.</summary>
    private (double Beats, double Share) Pulse(float[] strengths, int start, int count, double near, double range)
    {
        // A pulse of this length can be told from its neighbours at about one step.
        double step = 60 * _rate / count / 8;
        int steps = Math.Max(4, (int)Math.Ceiling(near * range / step));
        double best = near, bestPower = -1;
        for (int i = -steps; i <= steps; i++)
        {
            double beats = near + i * step, power = PulsePower(strengths, start, count, beats);
            if (power > bestPower)
                (best, bestPower) = (beats, power);
        }

        for (double fine = step / 2; fine > 1e-4; fine /= 2)
        {
            foreach (double beats in (double[])[best - fine, best + fine])
            {
                double power = PulsePower(strengths, start, count, beats);
                if (power > bestPower)
                    (best, bestPower) = (beats, power);
            }
        }

        double sum = 0;
        for (int i = start; i < start + count; i++)
            sum += strengths[i];
        return (best, sum > 0 ? Math.Min(1, Math.Sqrt(bestPower / Harmonics) / sum * 2) : 0);
    }

    private const int Harmonics = 3;

    /// <summary>Power of the strengths at the beat and its first harmonics.</summary>
    private double PulsePower(float[] strengths, int start, int count, double beats)
    {
        double power = 0;
        for (int harmonic = 1; harmonic <= Harmonics; harmonic++)
        {
            double turn = -2 * Math.PI * beats / 60 / _rate * harmonic;
            var (stepSine, stepCosine) = Math.SinCos(turn);
            double re = 0, im = 0, cosine = 1, sine = 0;
            for (int i = 0; i < count; i++)
            {
                double strength = strengths[start + i];
                re += strength * cosine;
                im += strength * sine;
                (cosine, sine) = (cosine * stepCosine - sine * stepSine, cosine * stepSine + sine * stepCosine);
            }

            power += re * re + im * im;
        }

        return power;
    }

    /// <summary>Tempos of stretches in which the beat can be heard, in order of size.</summary>
    private List<double> Stretches(float[] strengths, double seconds, double beats)
    {
        int stretch = (int)(seconds * _rate);
        var found = new List<double>();
        for (int start = 0; start + stretch <= strengths.Length; start += (int)(StretchStepSeconds * _rate))
        {
            var (local, share) = Pulse(strengths, start, stretch, beats, 0.12);
            if (share > 0.12)
                found.Add(local);
        }

        found.Sort();
        // Single stretches may be misheard: the outer tenths do not count.
        int cut = found.Count / 10;
        return found[cut..(found.Count - cut)];
    }

    /// <summary>The first beat that sounds: where the attacks folded to one period are strongest.</summary>
    private double FirstBeat(double beats)
    {
        double period = 60 / beats * _rate, phase = PhaseOf(_marks, period);
        double first = Array.FindIndex(_marks, mark => mark > 0.5f) - 0.1 * period;
        return Math.Max(0, (phase + Math.Ceiling((first - phase) / period) * period) / _rate);
    }

    /// <summary>Where in a period the strengths are greatest.</summary>
    private static double PhaseOf(float[] strengths, double period)
    {
        int bins = Math.Max(8, (int)Math.Round(period));
        var folded = new double[bins];
        for (int i = 0; i < strengths.Length; i++)
            folded[(int)(i % period / period * bins) % bins] += strengths[i];
        var smooth = new double[bins];
        for (int i = 0; i < bins; i++)
            smooth[i] = folded[(i + bins - 2) % bins] + 2 * folded[(i + bins - 1) % bins] + 3 * folded[i] + 2 * folded[(i + 1) % bins]
                + folded[(i + 2) % bins];
        int top = Array.IndexOf(smooth, smooth.Max());
        return (top + 0.5 + Vertex(smooth[(top + bins - 1) % bins], smooth[top], smooth[(top + 1) % bins])) / bins * period;
    }
}
