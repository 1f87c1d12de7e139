using System.Diagnostics;
using Wergamon.Core.Analysis;
using Wergamon.Core.Audio;
using Wergamon.Testing.Outside;

namespace Wergamon.Bench;

/// <summary>Speed of measuring loudness, range and true peak on one thread, compared with libebur128.</summary>
internal static class LoudnessBench
{
    private const int Seconds = 120;
    private const int Rounds = 5;

    public static void Run()
    {
        foreach (var (rate, channels) in ((int, int)[])[(44_100, 2), (48_000, 6), (96_000, 2)])
        {
            var format = new PcmFormat(new SampleRate(rate), channels, 32, SampleKind.Float);
            var samples = Noise(rate * Seconds * channels);
            double ours = double.MaxValue, reference = double.MaxValue;
            for (int round = 0; round < Rounds; round++)
            {
                ours = Math.Min(ours, TimeOf(() =>
                {
                    var meter = new LoudnessMeter(format);
                    for (int at = 0, block = SampleBuffer.DefaultCapacity * channels; at < samples.Length; at += block)
                        meter.Append(samples.AsSpan(at, Math.Min(block, samples.Length - at)));
                    meter.Finish();
                }));
                reference = Math.Min(reference, TimeOf(() => LibEbur128.Measure(samples, format)));
            }

            Console.WriteLine(
                $"Loudness, range and true peak, {channels} channels at {rate} Hz, one thread: {Seconds / ours:0} times playing time, "
                    + $"libebur128 {Seconds / reference:0} times");
        }
    }

    private static double TimeOf(Action work)
    {
        var watch = Stopwatch.StartNew();
        work();
        return watch.Elapsed.TotalSeconds;
    }

    /// <summary>Loud from start to end: no block can be told from its neighbours as too quiet for a peak.</summary>
    private static float[] Noise(int count)
    {
        var random = new Random(1);
        var samples = new float[count];
        for (int i = 0; i < count; i++)
            samples[i] = (float)(random.NextDouble() - 0.5);
        return samples;
    }
}
