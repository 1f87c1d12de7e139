using System.Diagnostics;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Resampling;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.Bench;

/// <summary>Speed of resampling two channels on one thread, compared with libsoxr at very high quality.</summary>
internal static class ResamplingBench
{
    private const int Seconds = 60;
    private const int Rounds = 5;

    public static void Run()
    {
        foreach (var (from, to) in ((int, int)[])[(96_000, 44_100), (48_000, 44_100), (88_200, 44_100), (44_100, 48_000)])
        {
            var tone = TestSound.Tone(from, 1, (long)from * Seconds, 997).AllDoubles();
            double[] both = [.. tone.SelectMany(sample => (double[])[sample, sample])];
            double ours = QuickestOf(() =>
            {
                using var reader = new ResamplingReader(new Interleaved(both, from), new SampleRate(to));
                var block = new SampleBuffer(reader.Format);
                while (reader.Read(block) > 0)
                {
                }
            });
            double reference = 2 * QuickestOf(() => LibSoxr.Resample(tone, from, to));
            Console.WriteLine(
                $"Resampling {from} to {to} Hz, two channels, one thread: {Seconds / ours:0} times playing time, libsoxr "
                    + $"{Seconds / reference:0} times");
        }
    }

    private static double QuickestOf(Action work)
    {
        double quickest = double.MaxValue;
        for (int round = 0; round < Rounds; round++)
        {
            var watch = Stopwatch.StartNew();
            work();
            quickest = Math.Min(quickest, watch.Elapsed.TotalSeconds);
        }

        return quickest;
    }

    /// <summary>Two channels from memory, at the cost of copying them.</summary>
    private sealed class Interleaved(double[] samples, int rate) : IPcmReader
    {
        private int _at;

        public PcmFormat Format { get; } = new(new SampleRate(rate), 2, 64, SampleKind.Float);

        public long? FrameCount => samples.Length / 2;

        public IReadOnlyList<string> Damage => [];

        public int Read(SampleBuffer block)
        {
            block.FrameCount = Math.Min(block.Capacity, (samples.Length - _at) / 2);
            samples.AsSpan(_at, 2 * block.FrameCount).CopyTo(block.Doubles);
            _at += 2 * block.FrameCount;
            return block.FrameCount;
        }

        public void Dispose()
        {
        }
    }
}
