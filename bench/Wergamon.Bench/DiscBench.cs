using System.Diagnostics;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Microsoft.Extensions.Logging.Abstractions;
using Wergamon.App;
using Wergamon.App.Intake;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Workers;
using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Jobs;
using Wergamon.Core.Tags;
using Wergamon.Devices.Drives;

namespace Wergamon.Bench;

/// <summary>Cost of reading discs: careful reading alone, and a whole rip compared with bare encoding of the same audio.</summary>
internal sealed class DiscBench(string rackFolder, string workFolder, Func<int, AppOptions> optionsFor)
{
    private const string LongDisc = "09-long-shift";
    private const int Rounds = 5;
    private const int CalmRipRounds = 7;
    private const int MaxRipRounds = 16;

    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 2, 16);

    /// <summary>A folder of its own for each round: database connections are pooled by path.</summary>
    private string _round = "";

    /// <summary>A clean disc of 60 minutes in memory, read carefully on one thread by a drive with offset, jitter and cache.</summary>
    public void CarefulReading()
    {
        const int Minutes = 60;
        var sound = new byte[Minutes * 60 * AudioDisc.SectorsPerSecond * AudioDisc.BytesPerSector];
        var images = Directory.GetFiles(rackFolder, "*.bin").Order().Select(File.ReadAllBytes).ToList();
        for (int at = 0, i = 0; at < sound.Length; i++)
        {
            var image = images[i % images.Count].AsSpan();
            image = image[..Math.Min(image.Length, sound.Length - at)];
            image.CopyTo(sound.AsSpan(at));
            at += image.Length;
        }

        var sheet = new CueSheet
        {
            Files = [new CueFile("disc.bin", "BINARY")],
            Tracks = [
                .. Enumerable.Range(0, 12)
                    .Select(i => new CueTrack(i + 1, CueTrack.Audio) { Indexes = [new CueIndex(1, 0, new Msf(i * Minutes / 12, 0, 0))] })
            ],
        };
        var times = new List<double>();
        for (int round = 0; round < Rounds; round++)
        {
            using var disc = new LoadedDisc("bench", "", DiscImage.Open(sheet, _ => new MemoryStream(sound, writable: false)));
            var reader = new CarefulReader(new SimulatedDrive(SimulatedTray.Usual[0], disc, new VirtualTime()), new ReadingSettings());
            var watch = Stopwatch.StartNew();
            int proved = TrackSpan.Of(disc.Image.Contents, Pauses.WithTrackBefore).Count(span => reader.Read(span, Stream.Null).IsProved);
            times.Add(Minutes * 60 / watch.Elapsed.TotalSeconds);
            Console.WriteLine(
                $"  round {round + 1}: {proved} tracks proved, {watch.Elapsed.TotalSeconds:0.00} s, "
                    + $"{(double)reader.SectorsRead / disc.Image.Contents.LeadOut:0.00} times the sectors of the disc");
        }

        Console.WriteLine(
            $"Careful reading of a clean disc of {Minutes} minutes from memory, one thread, median: "
                + $"{times.Order().ElementAt(Rounds / 2):0} times playing time, wanted more than 400");
    }

    /// <summary>
    /// From drive to proved FLAC with one worker, compared with the same worker encoding and proving the same audio from WAV files.
    /// </summary>
    public async Task WholeRipAsync()
    {
        var rack = Path.Combine(workFolder, "rack");
        Directory.CreateDirectory(rack);
        foreach (var file in Directory.GetFiles(rackFolder, "*.bin").Append(Path.Combine(rackFolder, LongDisc + ".cue")))
            File.Copy(file, Path.Combine(rack, Path.GetFileName(file)));
        var rounds = new List<RipRound>();
        for (int round = -1; round < MaxRipRounds && rounds.Count(each => each.IsCalm) < CalmRipRounds; round++)
        {
            // Files of a round are removed before the next, so that each has the same memory.
            _round = Directory.CreateDirectory(Path.Combine(workFolder, $"round{round}")).FullName;
            double proving = await EncodeAsync(rack);
            var measured = new RipRound(EncodeOnly(1), EncodeOnly(2), proving, await RipAsync(rack));
            Directory.Delete(_round, recursive: true);
            if (round < 0)
                continue;
            rounds.Add(measured);
            Console.WriteLine(
                $"  round {round + 1}: encoding {measured.Encoding:0.00} s, the same twice at once {measured.Twice:0.00} s, encoding and "
                    + $"proving {proving:0.00} s, the whole rip, proved and filed, {measured.Rip:0.00} s");
        }

        Tell("all rounds", rounds);
        Tell(
            $"rounds in which the machine gave both its cores (encoding twice at once took at most {RipRound.MaxForTwo:0.00} times as "
                + "long)",
            [.. rounds.Where(round => round.IsCalm)]);
    }

    private static void Tell(string what, List<RipRound> rounds)
    {
        if (rounds.Count == 0)
        {
            Console.WriteLine($"Whole rip to FLAC: no {what}");
            return;
        }

        double Median(Func<RipRound, double> ratio) => rounds.ConvertAll(round => ratio(round)).Median();
        Console.WriteLine($"Whole rip to FLAC, proved and filed, one worker, {rounds.Count} {what}:");
        Console.WriteLine(
            $"  over encoding the same samples without any proof, median {Median(round => round.Rip / round.Encoding):0.00}, the "
                + $"quickest of each {rounds.Min(round => round.Rip) / rounds.Min(round => round.Encoding):0.00}, wanted at most 1.15");
        Console.WriteLine($"  over encoding and proving, median {Median(round => round.Rip / round.Proving):0.00}");
    }

    /// <summary>Times in seconds.</summary>
    /// <param name="Encoding">Encoding alone, on one thread.</param>
    /// <param name="Twice">The same on two threads at once, all of it on each.</param>
    /// <param name="Proving">Encoding and proving by a worker.</param>
    /// <param name="Rip">From the drive to proved copies in place.</param>
    private sealed record RipRound(double Encoding, double Twice, double Proving, double Rip)
    {
        public const double MaxForTwo = 1.08;

        /// <summary>False when something else used one of the cores: a rip works on two, encoding alone on one.</summary>
        public bool IsCalm => Twice <= MaxForTwo * Encoding;
    }

    /// <summary>Minimal encoding: PCM in, FLAC out, in this process, nothing read back; all of it on each of several threads.</summary>
    private double EncodeOnly(int threads)
    {
        var watch = Stopwatch.StartNew();
        var lanes = Enumerable.Range(0, threads).Select(lane => new Thread(() => EncodeTracks(lane))).ToList();
        lanes.ForEach(lane => lane.Start());
        lanes.ForEach(lane => lane.Join());
        return watch.Elapsed.TotalSeconds;
    }

    private void EncodeTracks(int lane)
    {
        for (int track = 1; track <= 9; track++)
        {
            using var reader = new WavReader(File.OpenRead(Path.Combine(_round, $"{track}.wav")));
            using var writer = AudioFiles.Create(
                File.Create(Path.Combine(_round, $"only-{lane}-{track}.flac")), reader.Format, new TagSet(), new FlacSettings());
            var block = new SampleBuffer(reader.Format);
            while (reader.Read(block) > 0)
                writer.Write(block);
            writer.Complete();
        }
    }

    private async Task<double> EncodeAsync(string rack)
    {
        using var disc = new DiscRack(rack).Take(LongDisc)!;
        var sources = new List<string>();
        foreach (var span in TrackSpan.Of(disc.Image.Contents, Pauses.WithTrackBefore))
        {
            var path = Path.Combine(_round, $"{span.Number}.wav");
            using var stream = File.Create(path);
            WavWriter.WriteHead(stream, Format, span.Frames);
            var bytes = new byte[span.Sectors * AudioDisc.BytesPerSector];
            disc.Image.Read(span.FirstSector, bytes);
            stream.Write(bytes);
            sources.Add(path);
        }

        using var idle = new IdleWorkers();
        using var pool = new WorkerPool(optionsFor(1), idle, NullLogger<WorkerPool>.Instance);
        await WarmUpAsync(pool, sources[^1], Path.Combine(_round, "warm-up.flac"));
        var watch = Stopwatch.StartNew();
        foreach (var source in sources)
            await pool.RunAsync(ToFlac(source, source + ".flac", []), WorkerPriority.Requested, null, CancellationToken.None);
        return watch.Elapsed.TotalSeconds;
    }

    /// <summary>Starts a worker and warms it up, tags included, before the clock runs.</summary>
    private static async Task WarmUpAsync(WorkerPool pool, string source, string output) =>
        await pool.RunAsync(
            ToFlac(source, output, [new JobField(FieldNames.Title, ["Warm-up"]), new JobField(FieldNames.Track, ["1"])]),
            WorkerPriority.Requested, null, CancellationToken.None);

    private static ConvertJob ToFlac(string source, string output, IReadOnlyList<JobField> fields) =>
        new(source, Format, [], new FlacSettings(), output, fields, []);

    private async Task<double> RipAsync(string rack)
    {
        var options = optionsFor(1) with { DataFolder = Path.Combine(_round, "rip"), RackFolder = rack, DriveSpeedup = 1e9 };
        await using var services = new ServiceCollection().AddLogging(logging => logging.ClearProviders())
            .AddWergamon(options)
            .BuildServiceProvider();
        var ended = new TaskCompletionSource(TaskCreationOptions.RunContinuationsAsynchronously);
        services.GetRequiredService<RunScheduler>().Ended += _ => ended.SetResult();
        foreach (var service in services.GetServices<IHostedService>())
            await service.StartAsync(CancellationToken.None);
        var rips = services.GetRequiredService<DiscRips>();
        await WarmUpAsync(
            services.GetRequiredService<WorkerPool>(), Path.Combine(_round, "9.wav"), Path.Combine(_round, "warm-up-rip.flac"));
        services.GetRequiredService<DriveBay>().Insert("A", LongDisc);
        while (services.GetRequiredService<InsertedDiscs>().On("A") is not { State: not LookUpState.Asking })
            await Task.Delay(20);
        var watch = Stopwatch.StartNew();
        rips.Start("A", [.. Enumerable.Range(1, 9)]);
        await ended.Task;
        double seconds = watch.Elapsed.TotalSeconds;
        foreach (var service in services.GetServices<IHostedService>())
            await service.StopAsync(CancellationToken.None);
        return seconds;
    }
}
