using System.Diagnostics;
using System.Security.Cryptography;
using Microsoft.Extensions.Logging.Abstractions;
using Wergamon.App.Storage;
using Wergamon.App.Workers;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.Bench;

/// <summary>What converting and proving costs beyond the codec, for each format that is written.</summary>
internal sealed class FormatBench(string source, string work, AppOptions options)
{
    private const int Rounds = 5;

    /// <summary>What all encoders take.</summary>
    private static readonly PcmFormat Format = new(new SampleRate(48_000), 2, 16);

    private static readonly Dictionary<string, BareFormat> Bare = new()
    {
        ["wav"] = new("pcm_s16le", "wav", new Dictionary<string, string>()),
        ["aiff"] = new("pcm_s16be", "aiff", new Dictionary<string, string>()),
        ["flac"] = new("flac", "flac", new Dictionary<string, string> { ["compression_level"] = "5" }),
        ["alac"] = new("alac", "mp4", new Dictionary<string, string>()),
        ["mp3"] = BareLoop.Mp3,
        ["aac"] = new("aac", "mp4", new Dictionary<string, string> { ["b"] = "256000" }),
        ["vorbis"] = new("libvorbis", "ogg", new Dictionary<string, string> { ["flags"] = "+qscale", ["global_quality"] = "708" }),
        ["opus"] = new("libopus", "ogg", new Dictionary<string, string> { ["b"] = "128000", ["vbr"] = "on" }),
        ["wma"] = new("wmav2", "asf", new Dictionary<string, string> { ["b"] = "192000" }),
    };

    /// <summary>
    /// CPU time of the worker and of the bare loop, in turns, so that both meet the same load; the median of the ratios counts.
    /// </summary>
    public async Task RunAsync(Func<Process, Action, double> cpuSecondsOf)
    {
        using var worker = new WorkerProcess(options, isLowPriority: false, NullLogger.Instance);
        var process = Process.GetProcessById(worker.ProcessId);
        var music = Path.Combine(work, "music.flac");
        var steps = new[]
        {
            new JobStep(StepKind.Resample, Format with { Bits = 64, Kind = SampleKind.Float }), new JobStep(StepKind.Requantise, Format)
        };
        await worker.RunAsync(
            new ConvertJob(source, new PcmFormat(SampleRate.AudioDisc, 2, 16), steps, new FlacSettings(), music, [], []), _ => { },
            CancellationToken.None);
        // As in a library, where the background has analysed what is converted.
        var analysed = (AnalysisReply)await worker.RunAsync(new AnalysisJob(music), _ => { }, CancellationToken.None);
        foreach (var format in FileFormats.Writable)
        {
            var output = Path.Combine(work, "bare" + format.Extension);
            var ratios = new List<(double Ratio, double Worker, double Bare)>();
            for (int round = -1; round < Rounds; round++)
            {
                double bare = cpuSecondsOf(Process.GetCurrentProcess(), () =>
                {
                    BareLoop.Encode(music, output, Bare[format.Key], Format.Rate);
                    BareLoop.Decode(output);
                });
                var made = Path.Combine(work, $"made-{format.Key}-{round}{format.Extension}");
                WorkerReply? reply = null;
                double whole = cpuSecondsOf(
                    process,
                    () =>
                        reply = worker.RunAsync(
                            new ConvertJob(
                                music, Format, [], format.UsualSettings, made, [], [])
                            { KnownDigest = analysed.Analysis.Digest },
                            _ => { }, CancellationToken.None).Result);
                if (reply!.Failure is { } failure)
                    throw new InvalidOperationException(failure);
                if (round >= 0)
                    ratios.Add((whole / bare, whole, bare));
            }

            var median = ratios.OrderBy(each => each.Ratio).ElementAt(Rounds / 2);
            Console.WriteLine(
                $"{format.Name}: CPU time of the worker (convert and prove) over the bare loop (encode and read back) "
                    + $"{median.Ratio:0.00} ({median.Worker:0.00} s over {median.Bare:0.00} s), wanted at most 1.05");
        }
    }

    /// <summary>Wall time of a long WAV to AIFF beside what it cannot do without: a copy, flushed, and a checksum of it.</summary>
    public async Task WavToAiffAsync()
    {
        const int Seconds = 600;
        var format = new PcmFormat(SampleRate.AudioDisc, 2, 16);
        var recording = Path.Combine(work, "long.wav");
        using (var writer = new Core.Formats.Wav.WavWriter(File.Create(recording), format))
        {
            var block = new SampleBuffer(format) { FrameCount = SampleBuffer.DefaultCapacity };
            var random = new Random(1);
            for (long left = Seconds * (long)format.Rate.Hertz; left > 0; left -= block.FrameCount)
            {
                foreach (ref int sample in block.Integers)
                    sample = random.Next(1 << 16) - (1 << 15);
                writer.Write(block);
            }

            writer.Complete();
        }

        using var worker = new WorkerProcess(options, isLowPriority: false, NullLogger.Instance);
        // As in a library, where the background has analysed what is converted.
        var analysed = (AnalysisReply)await worker.RunAsync(new AnalysisJob(recording), _ => { }, CancellationToken.None);
        var ratios = new List<(double Ratio, double Ours, double Copy)>();
        for (int round = -1; round < Rounds; round++)
        {
            var copy = Path.Combine(work, "copy.wav");
            var watch = Stopwatch.StartNew();
            using (var cp = Process.Start("cp", [recording, copy]))
                await cp.WaitForExitAsync();
            using (var sync = Process.Start("sync", [copy]))
                await sync.WaitForExitAsync();
            HashOf(copy);
            double copied = watch.Elapsed.TotalSeconds;
            var made = Path.Combine(work, $"made{round}.aiff");
            watch.Restart();
            var reply = await worker.RunAsync(
                new ConvertJob(
                    recording, format, [], new Core.Formats.Aiff.AiffSettings(), made, [], [])
                { KnownDigest = analysed.Analysis.Digest },
                _ => { }, CancellationToken.None);
            if (reply.Failure is { } failure)
                throw new InvalidOperationException(failure);
            // As the server does before it gives the file its name.
            using (var file = File.Open(made, FileMode.Open))
                file.Flush(flushToDisk: true);
            double ours = watch.Elapsed.TotalSeconds;
            File.Delete(made);
            if (round >= 0)
                ratios.Add((ours / copied, ours, copied));
        }

        var median = ratios.OrderBy(each => each.Ratio).ElementAt(Rounds / 2);
        Console.WriteLine(
            $"WAV to AIFF, proved, over copy, flush and MD5: {median.Ratio:0.00} ({median.Ours:0.00} s over {median.Copy:0.00} s), "
                + "wanted at most 1.3");
    }

    private static void HashOf(string path)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.MD5);
        using var file = File.OpenRead(path);
        var buffer = new byte[1 << 16];
        while (file.Read(buffer) is > 0 and var got)
            hash.AppendData(buffer, 0, got);
    }
}
