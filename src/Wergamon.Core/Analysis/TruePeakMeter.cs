using System.Runtime.Intrinsics;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Analysis;

/// <summary>
/// True peak (ITU-R BS.1770-4, annex 2): the peak of the signal oversampled to at least 192 kHz, four times at 44.1 and 48 kHz.
/// The interpolator is longer than the standard's example, so that tones close to half the rate are measured, too.
/// </summary>
internal sealed class TruePeakMeter
{
    private const int Taps = 24, MaxFactor = 4, EnoughHertz = 176_400, ChunkFrames = 512;

    private const double AttenuationDecibels = 60;

    /// <summary>One set of taps for each place between two samples.</summary>
    private readonly float[][] _phases;

    /// <summary>How far beyond the samples that it is made of an interpolated value can be.</summary>
    private readonly float _overshoot;

    /// <summary>For each channel the last samples of the block before, then the present ones.</summary>
    private readonly float[][] _channels;

    private float _peak;

    public TruePeakMeter(PcmFormat format)
    {
        int factor = 1;
        while (factor < MaxFactor && format.Rate.Hertz * factor < EnoughHertz)
            factor *= 2;
        _phases = [.. Enumerable.Range(1, factor - 1).Select(phase => Interpolator((double)phase / factor))];
        _overshoot = _phases.Length == 0 ? 1 : _phases.Max(taps => taps.Sum(Math.Abs));
        _channels = [.. Enumerable.Range(0, format.Channels).Select(_ => new float[Taps + ChunkFrames])];
    }

    /// <summary>Peak so far, linear.</summary>
    public double Peak => _peak;

    /// <param name="samples">Interleaved.</param>
    public void Append(ReadOnlySpan<float> samples)
    {
        for (int frames = samples.Length / _channels.Length; frames > 0;)
        {
            int take = Math.Min(frames, ChunkFrames);
            for (int channel = 0; channel < _channels.Length; channel++)
                Append(samples[..(take * _channels.Length)], channel, take);
            samples = samples[(take * _channels.Length)..];
            frames -= take;
        }
    }

    /// <summary>Lets the last samples go through the interpolator.</summary>
    public void Finish() => Append(new float[Taps * _channels.Length]);

    private void Append(ReadOnlySpan<float> samples, int channel, int frames)
    {
        var line = _channels[channel];
        for (int frame = 0, at = channel; frame < frames; frame++, at += _channels.Length)
            line[Taps + frame] = samples[at];
        var used = line.AsSpan(0, Taps + frames);
        float highest = Highest(used[Taps..]);
        _peak = Math.Max(_peak, highest);
        // Between quiet samples nothing can be higher than what has been found.
        if (Math.Max(highest, Highest(used[..Taps])) * _overshoot > _peak)
        {
            foreach (var taps in _phases)
                _peak = Math.Max(_peak, Interpolated(used, taps, frames));
        }

        used[^Taps..].CopyTo(line);
    }

    private static float Highest(ReadOnlySpan<float> samples)
    {
        var highest = Vector256<float>.Zero;
        int at = 0;
        for (; at <= samples.Length - Vector256<float>.Count; at += Vector256<float>.Count)
            highest = Vector256.Max(highest, Vector256.Abs(Vector256.Create(samples[at..])));
        float peak = Highest(highest);
        for (; at < samples.Length; at++)
            peak = Math.Max(peak, Math.Abs(samples[at]));
        return peak;
    }

    private static float Interpolated(ReadOnlySpan<float> line, ReadOnlySpan<float> taps, int frames)
    {
        var highest = Vector256<float>.Zero;
        int at = 0;
        for (; at <= frames - 2 * Vector256<float>.Count; at += 2 * Vector256<float>.Count)
        {
            Vector256<float> one = default, two = default;
            for (int tap = 0; tap < taps.Length; tap++)
            {
                var weight = Vector256.Create(taps[tap]);
                one = Vector256.FusedMultiplyAdd(weight, Vector256.Create(line[(at + tap)..]), one);
                two = Vector256.FusedMultiplyAdd(weight, Vector256.Create(line[(at + tap + Vector256<float>.Count)..]), two);
            }

            highest = Vector256.Max(highest, Vector256.Max(Vector256.Abs(one), Vector256.Abs(two)));
        }

        float peak = Highest(highest);
        for (; at < frames; at++)
        {
            float sum = 0;
            for (int tap = 0; tap < taps.Length; tap++)
                sum += taps[tap] * line[at + tap];
            peak = Math.Max(peak, Math.Abs(sum));
        }

        return peak;
    }

    private static float Highest(Vector256<float> values)
    {
        float peak = 0;
        for (int lane = 0; lane < Vector256<float>.Count; lane++)
            peak = Math.Max(peak, values[lane]);
        return peak;
    }

    /// <param name="fraction">Place after the sample in the middle, from 0 to 1.</param>
    private static float[] Interpolator(double fraction)
    {
        var window = new KaiserWindow(AttenuationDecibels);
        var taps = new double[Taps];
        for (int tap = 0; tap < Taps; tap++)
        {
            double place = tap - (Taps / 2 - 1) - fraction;
            taps[tap] = Math.Sin(Math.PI * place) / (Math.PI * place) * window.At(place / (Taps / 2));
        }

        double sum = taps.Sum();
        return [.. taps.Select(tap => (float)(tap / sum))];
    }
}
