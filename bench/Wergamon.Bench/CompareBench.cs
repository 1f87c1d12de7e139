using System.Diagnostics;
using Microsoft.Extensions.Logging.Abstractions;
using Wergamon.App.Storage;
using Wergamon.App.Workers;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Jobs;
using Wergamon.Testing;

namespace Wergamon.Bench;

/// <summary>
/// CPU time of a null test of two files of five minutes, beside decoding both with libav alone; time of a part of a spectrogram.
/// </summary>
internal static class CompareBench
{
    private const int Seconds = 300, Rounds = 9, Drawings = 5;

    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 2, 16);

    /// <param name="options">A worker of its own makes the tests.</param>
    public static async Task RunAsync(AppOptions options)
    {
        using var folder = new TemporaryFolder();
        using var worker = new WorkerProcess(options, isLowPriority: false, NullLogger.Instance);
        using var process = Process.GetProcessById(worker.ProcessId);
        var flac = EncodedFile.Write(folder["a.flac"], "flac", "flac", Music());
        foreach (var (name, path) in new[]
        {
            ("FLAC", EncodedFile.Write(folder["b.flac"], "flac", "flac", Music())),
            ("MP3 192", EncodedFile.Write(folder["b.mp3"], "mp3", "libmp3lame", Music(), ("b", "192000")))
        })
        {
            // Each beside decoding a moment ago, since the machine itself is now faster, now slower.
            var (bare, known, measured) = (new List<double>(), new List<double>(), new List<double>());
            for (int round = 0; round < Rounds; round++)
            {
                using var self = Process.GetCurrentProcess();
                var before = self.TotalProcessorTime;
                BareLoop.Decode(flac);
                BareLoop.Decode(path);
                self.Refresh();
                bare.Add((self.TotalProcessorTime - before).TotalSeconds);
                var job = new CompareJob(flac, path, folder["out"], MatchesLevel: true);
                measured.Add(await CpuSecondsAsync(job) / bare[^1]);
                known.Add(await CpuSecondsAsync(job with { FirstLoudness = new(-14, 0.9), SecondLoudness = new(-14, 0.9) }) / bare[^1]);
            }

            Console.WriteLine(
                $"Null test of {Seconds} s of stereo, FLAC against {name}: {known.Median():0.00} times the CPU time of decoding both "
                    + $"with libav alone ({bare.Median():0.00} s); {measured.Median():0.00} times with loudness and true peak, where "
                    + "the library has not measured them yet; wanted at most 1.5");
        }

        using var sound = new AlignedSound(Open(folder["out/first.wav"]), Open(folder["out/second.wav"]), 0, 1);
        double drawn = double.MaxValue;
        for (int drawing = 0; drawing < Drawings; drawing++)
        {
            var watch = Stopwatch.StartNew();
            PairSpectrogram.Draw(sound, ComparedSignal.Residue, 0, Seconds * 44_100, 300);
            drawn = Math.Min(drawn, watch.Elapsed.TotalMilliseconds);
        }

        Console.WriteLine($"Spectrogram of 300 columns, as wide as the page over {Seconds} s: {drawn:0} ms, wanted below 100");

        async Task<double> CpuSecondsAsync(CompareJob job)
        {
            // Into an empty folder, as in the application.
            if (Directory.Exists(job.OutputFolder))
                Directory.Delete(job.OutputFolder, recursive: true);
            process.Refresh();
            var before = process.TotalProcessorTime;
            var reply = await worker.RunAsync(job, _ => { }, CancellationToken.None);
            process.Refresh();
            return reply is CompareReply
                ? (process.TotalProcessorTime - before).TotalSeconds
                : throw new InvalidOperationException(reply.Failure);
        }
    }

    private static WavSamples Open(string path) => new(File.OpenRead(path));

    /// <summary>Tones that swell, with noise, so that encoders have work.</summary>
    private static TestSound Music() => new(Format, Seconds * 44_100L, (block, start) =>
    {
        var samples = block.Integers;
        uint random = (uint)start + 1;
        for (int i = 0; i < samples.Length; i++)
        {
            random = random * 1_664_525 + 1_013_904_223;
            double t = (start + i / 2) / 44_100.0;
            samples[i] = (int)(
                9000 * Math.Sin(2 * Math.PI * (330 + 40 * (i % 2)) * t) * (0.6 + 0.4 * Math.Sin(t))
                    + 5000 * Math.Sin(2 * Math.PI * 1234.5 * t + Math.Sin(3 * t)) + (random >> 16) / 32.0 - 1024);
        }
    });
}
