using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Resampling;

namespace Wergamon.Core.Analysis;

/// <summary>
/// True peak (ITU-R BS.1770-4, annex 2): the peak of the signal oversampled to at least 192 kHz, four times at 44.1 and 48 kHz.
/// It is doubled once or twice. The first interpolator is longer than the standard's example, so that tones close to half the rate
/// are measured, too; the second has a signal with an empty upper half, for which few taps are enough.
/// </summary>
internal sealed class TruePeakMeter
{
    private const int HalfPairs = 12, QuarterPairs = 4, MaxDoublings = 2, EnoughHertz = 176_400, ChunkFrames = 512;

    /// <summary>Values in the middle of two samples that the values at quarters need before and after them.</summary>
    private const int HalvesAround = 2;

    /// <summary>
    /// Samples of the block before: what the values in the middle are made of, and so many values more for those at quarters.
    /// </summary>
    private const int History = 2 * HalfPairs - 1 + 2 * HalvesAround;

    /// <summary>Samples before a value that have a part in it, once or twice interpolated.</summary>
    private const int WeightsBefore = HalfPairs + HalvesAround;

    private const double AttenuationDecibels = 60;

    /// <summary>Taps of a value in the middle of two others: a weight for each pair around it, the nearest first.</summary>
    private static readonly float[] HalfTaps = Interpolator(HalfPairs), QuarterTaps = Interpolator(QuarterPairs);

    /// <summary>
    /// How far a value between two others can be from the straight line between them, in multiples of the greatest second difference of
    /// the samples: between two samples, and at a quarter between a sample and the value in the middle.
    /// </summary>
    private static readonly float SampleBulge = Math.Max(
            Bulge(HalfWeights(), (0, 0.5f), (1, 0.5f)), Bulge(QuarterWeights(), (0, 0.75f), (1, 0.25f))),
        QuarterBulge = QuarterBesideHalf();

    private static readonly Vector256<float>[] HalfVectors = [.. HalfTaps.Select(Vector256.Create)],
        QuarterVectors = [.. QuarterTaps.Select(Vector256.Create)];

    private readonly int _channels, _doublings;

    /// <summary>Interleaved: the last frames of the block before, then the present ones.</summary>
    private readonly float[] _line;

    /// <summary>The values in the middle of two samples each, interleaved.</summary>
    private readonly float[] _halves;

    private float _peak;

    public TruePeakMeter(PcmFormat format)
    {
        while (_doublings < MaxDoublings && format.Rate.Hertz << _doublings < EnoughHertz)
            _doublings++;
        _channels = format.Channels;
        _line = new float[(History + ChunkFrames) * _channels];
        _halves = new float[(ChunkFrames + 2 * HalvesAround) * _channels];
    }

    /// <summary>Peak so far, linear.</summary>
    public double Peak => _peak;

    /// <param name="samples">Interleaved.</param>
    public void Append(ReadOnlySpan<float> samples)
    {
        while (samples.Length > 0)
        {
            int take = Math.Min(samples.Length, ChunkFrames * _channels);
            AppendChunk(samples[..take]);
            samples = samples[take..];
        }
    }

    /// <summary>Lets the last samples go through the interpolators.</summary>
    public void Finish() => Append(new float[History * _channels]);

    private void AppendChunk(ReadOnlySpan<float> samples)
    {
        int history = History * _channels;
        samples.CopyTo(_line.AsSpan(history));
        var line = _line.AsSpan(0, history + samples.Length);
        var (highest, roughness) = Survey(line, _channels);
        _peak = Math.Max(_peak, highest);
        // Where the signal is low and smooth, no value between its samples can be higher than what has been found.
        if (_doublings > 0 && highest + SampleBulge * roughness > _peak)
        {
            var halves = _halves.AsSpan(0, samples.Length + 2 * HalvesAround * _channels);
            float half = InterpolateHalves(line, halves, _channels);
            _peak = Math.Max(_peak, half);
            if (_doublings > 1 && Math.Max(highest, half) + QuarterBulge * roughness > _peak)
                _peak = Math.Max(
                    _peak, HighestQuarter(line[((HalfPairs - 2 + HalvesAround) * _channels)..], halves, samples.Length, _channels));
        }

        line[^history..].CopyTo(line);
    }

    /// <summary>The highest magnitude of the samples, and the greatest second difference of three that follow each other.</summary>
    private static (float Highest, float Roughness) Survey(ReadOnlySpan<float> samples, int stride)
    {
        // Two of each: one maximum waits for the one before it.
        Vector256<float> highest = default, otherHighest = default, roughest = default, otherRoughest = default;
        ref float from = ref MemoryMarshal.GetReference(samples);
        int at = 0, width = Vector256<float>.Count, last = samples.Length - 2 * stride;
        for (; at <= last - 2 * width; at += 2 * width)
        {
            var (first, second) = (Vector256.LoadUnsafe(ref from, (nuint)at), Vector256.LoadUnsafe(ref from, (nuint)(at + width)));
            (highest, otherHighest) = (
                Vector256.MaxNative(highest, Vector256.Abs(first)), Vector256.MaxNative(otherHighest, Vector256.Abs(second)));
            (roughest, otherRoughest) = (
                Vector256.MaxNative(roughest, Difference(ref from, first, at, stride)),
                Vector256.MaxNative(otherRoughest, Difference(ref from, second, at + width, stride)));
        }

        float peak = Highest(Vector256.MaxNative(highest, otherHighest)), roughness = Highest(Vector256.MaxNative(roughest, otherRoughest));
        for (; at < samples.Length; at++)
        {
            peak = Math.Max(peak, Math.Abs(samples[at]));
            roughness = at < last
                ? Math.Max(roughness, Math.Abs(samples[at] + samples[at + 2 * stride] - 2 * samples[at + stride]))
                : roughness;
        }

        return (peak, roughness);

        static Vector256<float> Difference(ref float from, Vector256<float> first, int at, int stride)
        {
            var (middle, last) = (
                Vector256.LoadUnsafe(ref from, (nuint)(at + stride)), Vector256.LoadUnsafe(ref from, (nuint)(at + 2 * stride)));
            return Vector256.Abs(first + last - (middle + middle));
        }
    }

    /// <summary>Fills the values in the middle of two samples and returns the highest magnitude.</summary>
    /// <param name="line">Samples; the first value stands behind as many frames as it needs.</param>
    /// <param name="stride">From one sample of a channel to the next.</param>
    private static float InterpolateHalves(ReadOnlySpan<float> line, Span<float> halves, int stride)
    {
        int width = Vector256<float>.Count, at = 0;
        var highest = Vector256<float>.Zero;
        ref float from = ref MemoryMarshal.GetReference(line), to = ref MemoryMarshal.GetReference(halves);
        for (; at <= halves.Length - 2 * width; at += 2 * width)
        {
            Vector256<float> one = default, two = default;
            nuint before = (nuint)(at + (HalfPairs - 1) * stride), after = before + (nuint)stride;
            foreach (var weight in HalfVectors)
            {
                one = Vector256.FusedMultiplyAdd(
                    weight, Vector256.LoadUnsafe(ref from, before) + Vector256.LoadUnsafe(ref from, after), one);
                two = Vector256.FusedMultiplyAdd(
                    weight, Vector256.LoadUnsafe(ref from, before + (nuint)width) + Vector256.LoadUnsafe(ref from, after + (nuint)width),
                    two);
                before -= (nuint)stride;
                after += (nuint)stride;
            }

            one.StoreUnsafe(ref to, (nuint)at);
            two.StoreUnsafe(ref to, (nuint)(at + width));
            highest = Vector256.MaxNative(highest, Vector256.MaxNative(Vector256.Abs(one), Vector256.Abs(two)));
        }

        float peak = Highest(highest);
        for (; at < halves.Length; at++)
        {
            float sum = 0;
            for (int pair = 0; pair < HalfPairs; pair++)
                sum = MathF.FusedMultiplyAdd(
                    HalfTaps[pair], line[at + (HalfPairs - 1 - pair) * stride] + line[at + (HalfPairs + pair) * stride], sum);
            halves[at] = sum;
            peak = Math.Max(peak, Math.Abs(sum));
        }

        return peak;
    }

    /// <summary>The highest magnitude at one and at three quarters between samples.</summary>
    /// <param name="line">Samples from the frame before the first place on.</param>
    /// <param name="halves">From two frames before the first place on.</param>
    /// <param name="count">Places.</param>
    private static float HighestQuarter(ReadOnlySpan<float> line, ReadOnlySpan<float> halves, int count, int stride)
    {
        var highest = Vector256<float>.Zero;
        ref float sample = ref MemoryMarshal.GetReference(line), half = ref MemoryMarshal.GetReference(halves);
        var (w0, w1, w2, w3) = (QuarterVectors[0], QuarterVectors[1], QuarterVectors[2], QuarterVectors[3]);
        int at = 0;
        for (; at <= count - Vector256<float>.Count; at += Vector256<float>.Count)
        {
            var (x0, x1, x2, x3) = (
                Load(ref sample, at), Load(ref sample, at + stride), Load(ref sample, at + 2 * stride), Load(ref sample, at + 3 * stride));
            var (h0, h1, h2, h3, h4) = (
                Load(ref half, at), Load(ref half, at + stride), Load(ref half, at + 2 * stride), Load(ref half, at + 3 * stride),
                Load(ref half, at + 4 * stride));
            var one = Vector256.FusedMultiplyAdd(
                w0, x1 + h2, Vector256.FusedMultiplyAdd(w1, h1 + x2, Vector256.FusedMultiplyAdd(w2, x0 + h3, w3 * (h0 + x3))));
            var three = Vector256.FusedMultiplyAdd(
                w0, h2 + x2, Vector256.FusedMultiplyAdd(w1, x1 + h3, Vector256.FusedMultiplyAdd(w2, h1 + x3, w3 * (x0 + h4))));
            highest = Vector256.MaxNative(highest, Vector256.MaxNative(Vector256.Abs(one), Vector256.Abs(three)));
        }

        float peak = Highest(highest);
        for (; at < count; at++)
        {
            var (x0, x1, x2, x3) = (line[at], line[at + stride], line[at + 2 * stride], line[at + 3 * stride]);
            var (h0, h1, h2, h3, h4) = (
                halves[at], halves[at + stride], halves[at + 2 * stride], halves[at + 3 * stride], halves[at + 4 * stride]);
            float one = Weighed(x1 + h2, h1 + x2, x0 + h3, h0 + x3), three = Weighed(h2 + x2, x1 + h3, h1 + x3, x0 + h4);
            peak = Math.Max(peak, Math.Max(Math.Abs(one), Math.Abs(three)));
        }

        return peak;

        static Vector256<float> Load(ref float from, int at) => Vector256.LoadUnsafe(ref from, (nuint)at);
        static float Weighed(float one, float two, float three, float four) => MathF.FusedMultiplyAdd(
            QuarterTaps[0], one,
            MathF.FusedMultiplyAdd(QuarterTaps[1], two, MathF.FusedMultiplyAdd(QuarterTaps[2], three, QuarterTaps[3] * four)));
    }

    private static float Highest(Vector256<float> values)
    {
        float peak = 0;
        for (int lane = 0; lane < Vector256<float>.Count; lane++)
            peak = Math.Max(peak, values[lane]);
        return peak;
    }

    private static float QuarterBesideHalf()
    {
        float[] weights = QuarterWeights(), half = HalfWeights();
        return Bulge([.. weights.Select((weight, place) => weight - half[place] / 2)], (0, 0.5f));
    }

    /// <summary>
    /// A value between samples less the one on a line, as a sum of second differences: of all their weights, the magnitudes.
    /// </summary>
    /// <param name="weights">Of the samples around the value.</param>
    /// <param name="line">Weights of samples from the one before the value on.</param>
    private static float Bulge(float[] weights, params ReadOnlySpan<(int Place, float Weight)> line)
    {
        foreach (var (place, weight) in line)
            weights[WeightsBefore + place] -= weight;
        double sum = 0, sumOfSums = 0, bulge = 0;
        foreach (float weight in weights)
            bulge += Math.Abs(sumOfSums += sum += weight);
        return (float)bulge;
    }

    /// <summary>The weights of the samples around a value in the middle.</summary>
    private static float[] HalfWeights()
    {
        var weights = new float[2 * WeightsBefore + 2];
        AddHalf(weights, WeightsBefore, 1);
        return weights;
    }

    /// <summary>Both interpolators in one: the weights of the samples around a value at a quarter.</summary>
    private static float[] QuarterWeights()
    {
        var weights = new float[2 * WeightsBefore + 2];
        for (int pair = 0; pair < QuarterPairs; pair++)
        {
            // Of the doubled signal, the values before it and after it: every other one is a sample, the rest are interpolated.
            Add(-pair, QuarterTaps[pair]);
            Add(pair + 1, QuarterTaps[pair]);
        }

        return weights;

        void Add(int place, float weight)
        {
            int sample = WeightsBefore + (int)Math.Floor(place / 2.0);
            if (place % 2 == 0)
                weights[sample] += weight;
            else
                AddHalf(weights, sample, weight);
        }
    }

    private static void AddHalf(float[] weights, int sample, float weight)
    {
        for (int pair = 0; pair < HalfPairs; pair++)
        {
            weights[sample - pair] += weight * HalfTaps[pair];
            weights[sample + 1 + pair] += weight * HalfTaps[pair];
        }
    }

    private static float[] Interpolator(int pairs)
    {
        var window = new KaiserWindow(AttenuationDecibels);
        double[] taps = [
            .. Enumerable.Range(0, pairs)
                .Select(pair => pair + 0.5)
                .Select(place => Math.Sin(Math.PI * place) / (Math.PI * place) * window.At(place / pairs))
        ];
        double sum = 2 * taps.Sum();
        return [.. taps.Select(tap => (float)(tap / sum))];
    }
}
