using System.Diagnostics;
using System.Globalization;
using Microsoft.Extensions.Logging.Abstractions;
using Wergamon.App.Storage;
using Wergamon.App.Workers;
using Wergamon.Bench;
using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Jobs;

// Measures the library, the server, reading discs, and what conversion costs beyond the codec itself: Wergamon.Bench MUSIC-FOLDER
// RACK-FOLDER [PART]
// The part is library, lists, tags, server, plans, sets, sticks, discs, sound, compare, findings, music, conversion or formats; all of them
// when it is left out.
// Behind sticks, the folder of a stick measures copying to it.
CultureInfo.CurrentCulture = CultureInfo.InvariantCulture;
if (args is not [var folder, var rack, ..] || args.Length > 4 || !Directory.Exists(folder) || !Directory.Exists(rack))
{
    Console.Error.WriteLine(
        "Say where the demo music and the disc rack are: Wergamon.Bench MUSIC-FOLDER RACK-FOLDER "
            + "[library|lists|tags|server|plans|sets|sticks|discs|sound|compare|findings|music|conversion|hours|formats] [STICK-FOLDER]");
    return 2;
}

(folder, rack) = (Path.GetFullPath(folder), Path.GetFullPath(rack));
LibAvPresence.Silence();
var work = Directory.CreateTempSubdirectory("wergamon-bench-").FullName;
var album = Directory.GetFiles(Path.Combine(folder, "The Quarry Lamps", "Night Shift at Pit Four"), "*.flac").Order().ToList();
var longest = album.MaxBy(path => AudioFiles.Probe(path).FrameCount)!;
try
{
    var library = new LibraryBench(OptionsFor(1) with { DataFolder = Path.Combine(work, "lists") }, work);
    if (IsWanted("library"))
        await library.ScanAsync();
    if (IsWanted("library") || args is [_, _, "lists"])
        library.Lists();

    if (IsWanted("tags"))
        await new TagBench(work, OptionsFor).RunAsync();
    if (IsWanted("server"))
        await new ServerBench(work).RunAsync();
    if (args is [_, _, "plans"])
        await new ServerBench(work).PlansAsync();
    if (args is [_, _, "sets"])
        await new ServerBench(work).SetsAsync();
    if (IsWanted("sticks"))
    {
        var sticks = new StickBench(work, OptionsFor);
        await sticks.CopyingAsync(args is [_, _, _, var stick] ? stick : work);
        if (args.Length < 4)
            await sticks.UnchangedAsync();
    }

    if (IsWanted("discs"))
    {
        var discs = new DiscBench(rack, work, OptionsFor);
        discs.CarefulReading();
        await discs.WholeRipAsync();
    }

    if (IsWanted("sound"))
    {
        ResamplingBench.Run();
        LoudnessBench.Run();
    }

    if (IsWanted("compare"))
        await CompareBench.RunAsync(OptionsFor(1));

    if (IsWanted("findings"))
        FindingBench.Run(folder, work);

    if (IsWanted("music"))
        MusicBench.Run();

    if (IsWanted("conversion"))
    {
        await CpuRatioAsync();
        await SpeedUpAsync();
        await MemoryAsync(new PcmFormat(new SampleRate(96_000), 6, 24), 20, 120);
    }

    if (args is [_, _, "hours"])
        await MemoryAsync(new PcmFormat(SampleRate.AudioDisc, 2, 16), 20, 3_600, 10 * 3_600);

    if (IsWanted("formats"))
    {
        var formats = new FormatBench(longest, work, OptionsFor(1));
        await formats.RunAsync(CpuSecondsOf);
        await formats.WavToAiffAsync();
    }
}
finally
{
    Directory.Delete(work, recursive: true);
}

return 0;

bool IsWanted(string part) => args.Length < 3 || args[2] == part;

// CPU time of the worker and of the bare loop, in turns, so that both meet the same load; the median of the ratios counts.
async Task CpuRatioAsync()
{
    const int Rounds = 7;
    using var worker = new WorkerProcess(OptionsFor(1), isLowPriority: false, NullLogger.Instance);
    var process = Process.GetProcessById(worker.ProcessId);
    var whole = new List<double>();
    var encoding = new List<double>();
    for (int round = -1; round < Rounds; round++)
    {
        var output = Path.Combine(work, "bare.mp3");
        double bareEncode = CpuSecondsOf(Process.GetCurrentProcess(), () => BareLoop.Encode(longest, output));
        double bareDecode = CpuSecondsOf(Process.GetCurrentProcess(), () => BareLoop.Decode(output));
        var before = CpuOf(process);
        await worker.RunAsync(Job(longest, Path.Combine(work, $"worker{round}.mp3")), _ => { }, CancellationToken.None);
        double workerSeconds = (CpuOf(process) - before).TotalSeconds;
        if (round < 0)
            continue;
        whole.Add(workerSeconds / (bareEncode + bareDecode));
        encoding.Add(workerSeconds / bareEncode);
        Console.WriteLine(
            $"  round {round + 1}: bare encoding {bareEncode:0.00} s, bare reading back {bareDecode:0.00} s, worker {workerSeconds:0.00} "
                + "s");
    }

    Console.WriteLine(
        $"CPU time of the worker (convert and prove) over the bare loop (encode and read back): {whole.Median():0.00}, wanted at most "
            + "1.10");
    Console.WriteLine($"CPU time of the worker (convert and prove) over bare encoding alone, without any proof: {encoding.Median():0.00}");
}

// Compared with bare loops in as many threads, which show what the machine gains from a second core.
async Task SpeedUpAsync()
{
    const int Rounds = 7;
    var rounds = new List<(double One, double Two, double BareOne, double BareTwo)>();
    for (int round = 0; round < Rounds; round++)
    {
        var times = (await AlbumSecondsAsync(1, round), await AlbumSecondsAsync(2, round), BareAlbumSeconds(1), BareAlbumSeconds(2));
        rounds.Add(times);
        Console.WriteLine(
            $"  album with 1 worker {times.Item1:0.00} s, with 2 workers {times.Item2:0.00} s; bare loop in 1 thread {times.Item3:0.00} "
                + $"s, in 2 threads {times.Item4:0.00} s");
    }

    // The quickest of each is the one least disturbed by other load.
    double workers = rounds.Min(r => r.One) / rounds.Min(r => r.Two), bare = rounds.Min(r => r.BareOne) / rounds.Min(r => r.BareTwo);
    Console.WriteLine(
        $"Wall time of the album, 1 worker over 2, quickest rounds: {workers:0.00}, wanted at least 1.80; bare loops on the same "
            + $"machine: {bare:0.00}");
}

double BareAlbumSeconds(int threads)
{
    var waiting = new System.Collections.Concurrent.ConcurrentQueue<string>(album.OrderByDescending(path => new FileInfo(path).Length));
    var watch = Stopwatch.StartNew();
    var lanes = Enumerable.Range(0, threads).Select(lane => new Thread(() =>
    {
        while (waiting.TryDequeue(out var path))
        {
            var output = Path.Combine(work, $"bare-{lane}.mp3");
            BareLoop.Encode(path, output);
            BareLoop.Decode(output);
        }
    })).ToList();
    lanes.ForEach(lane => lane.Start());
    lanes.ForEach(lane => lane.Join());
    return watch.Elapsed.TotalSeconds;
}

// The workers are started and warm before the clock runs; a run starts them once for all its tracks.
async Task<double> AlbumSecondsAsync(int workers, int round)
{
    using var idle = new IdleWorkers();
    using var pool = new WorkerPool(OptionsFor(workers), idle, NullLogger<WorkerPool>.Instance);
    await Task.WhenAll(
        Enumerable.Range(0, workers)
            .Select(
                i =>
                    pool.RunAsync(
                        Job(album[^1], Path.Combine(work, $"warm-{workers}-{round}-{i}.mp3")), WorkerPriority.Requested, null,
                        CancellationToken.None)));
    var watch = Stopwatch.StartNew();
    var byLength = album.OrderByDescending(path => new FileInfo(path).Length).ToList();
    await Task.WhenAll(
        byLength.Select(
            (path, i) =>
                pool.RunAsync(
                    Job(path, Path.Combine(work, $"album-{workers}-{round}-{i}.mp3")), WorkerPriority.Requested, null,
                    CancellationToken.None)));
    return watch.Elapsed.TotalSeconds;
}

// A worker's peak memory, runtime included, must not grow with the length of the audio.
async Task MemoryAsync(PcmFormat format, params int[] lengths)
{
    foreach (int seconds in lengths)
    {
        var source = Path.Combine(work, "long.wav");
        using (var writer = new WavWriter(File.Create(source), format))
        {
            var block = new SampleBuffer(format) { FrameCount = SampleBuffer.DefaultCapacity };
            var random = new Random(1);
            foreach (ref int sample in block.Integers)
                sample = random.Next(1 << format.Bits) - (1 << (format.Bits - 1));
            for (int i = 0; i < (long)seconds * format.Rate.Hertz / block.FrameCount; i++)
                writer.Write(block);
            writer.Complete();
        }

        using var worker = new WorkerProcess(OptionsFor(1), isLowPriority: false, NullLogger.Instance);
        var job = new ConvertJob(source, format, [], new FlacSettings(), Path.Combine(work, $"long-{seconds}.flac"), [], []);
        await worker.RunAsync(job, _ => { }, CancellationToken.None);
        var peak = File.ReadLines($"/proc/{worker.ProcessId}/status").First(line => line.StartsWith("VmHWM:", StringComparison.Ordinal));
        Console.WriteLine($"Peak memory of a worker, {seconds} s of {format} to FLAC and proved: {peak[6..].Trim()}");
    }
}

static ConvertJob Job(string source, string output)
{
    var facts = AudioFiles.Probe(source);
    return new ConvertJob(source, facts.Format, [], Mp3Settings.Constant(256), output, [], []);
}

AppOptions OptionsFor(int workers)
{
    var here = new DirectoryInfo(AppContext.BaseDirectory.TrimEnd('/'));
    return new AppOptions
    {
        DataFolder = work,
        AllowedBases = [],
        WorkerPath = Path.Combine(here.Parent!.Parent!.FullName, "Wergamon.Worker", here.Name, "Wergamon.Worker.dll"),
        WorkerCount = workers,
    };
}

static TimeSpan CpuOf(Process process)
{
    process.Refresh();
    return process.TotalProcessorTime;
}

static double CpuSecondsOf(Process process, Action work)
{
    var before = CpuOf(process);
    work();
    return (CpuOf(process) - before).TotalSeconds;
}
