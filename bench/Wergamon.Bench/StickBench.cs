using System.Diagnostics;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App;
using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Library.Listening;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Codecs;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Tags;

namespace Wergamon.Bench;

/// <summary>Sticks: one of 5,000 tracks on which nothing has changed, and copying with every file read back, beside cp and sync.</summary>
internal sealed class StickBench(string work, Func<int, AppOptions> optionsFor)
{
    private const int Rounds = 5;

    /// <summary>How long it takes to see that nothing has to be done.</summary>
    public async Task UnchangedAsync()
    {
        const int Tracks = 5_000;
        MusicTree.Make(Path.Combine(work, "tree"), Tracks);
        await using var app = await StartAsync("unchanged", Path.Combine(work, "tree"), work);
        long stick = AddStick(app, Path.Combine(work, "stick"));
        await UpdateAsync(app, stick);
        var times = new List<double>();
        for (int round = 0; round <= Rounds; round++)
        {
            var watch = Stopwatch.StartNew();
            if (app.GetRequiredService<MusicSticks>().Update(stick).RunId is not null)
                throw new InvalidOperationException("Something has changed.");
            times.Add(watch.Elapsed.TotalSeconds);
        }

        Console.WriteLine(
            $"A stick of {Tracks:N0} tracks with nothing to do: {times[0]:0.00} s the first time, median then {AfterFirst(times):0.00} "
                + "s, wanted below 2 s");
    }

    /// <summary>Files of usual size that go onto a stick as they are.</summary>
    /// <param name="sticks">The stick's folder is made in here.</param>
    public async Task CopyingAsync(string sticks)
    {
        const int Files = 40, Seconds = 90;
        var tree = Directory.CreateDirectory(Path.Combine(work, "large")).FullName;
        var format = new PcmFormat(SampleRate.AudioDisc, 2, 16);
        var random = new Random(1);
        var block = new SampleBuffer(format);
        for (int i = 0; i < Files; i++)
        {
            // Tagged: a file that is named by its pattern alone gets tags, and is no plain copy.
            var tags = new TagSet();
            tags.Set(FieldNames.Title, $"Cart {i + 1}");
            tags.Set(FieldNames.Artist, "Tin Orchard");
            using var writer = AudioFiles.Create(File.Create(Path.Combine(tree, $"{i + 1:00}.wav")), format, tags, new WavSettings());
            for (long left = Seconds * 44_100L; left > 0; left -= block.FrameCount)
            {
                block.FrameCount = (int)Math.Min(left, block.Capacity);
                foreach (ref int sample in block.Integers[..(2 * block.FrameCount)])
                    sample = random.Next(-32_768, 32_768);
                writer.Write(block);
            }

            writer.Complete();
        }

        long bytes = Directory.GetFiles(tree).Sum(path => new FileInfo(path).Length);
        await using var app = await StartAsync("copying", tree, sticks);
        var (ours, theirs, proved) = (new List<double>(), new List<double>(), new List<double>());
        for (int round = 0; round <= Rounds; round++)
        {
            var place = Path.Combine(sticks, $"stick-{round}");
            long stick = AddStick(app, place);
            var watch = Stopwatch.StartNew();
            await UpdateAsync(app, stick);
            ours.Add(watch.Elapsed.TotalSeconds);
            Directory.Delete(place, recursive: true);

            watch.Restart();
            using (var copy = Process.Start("sh", ["-c", $"cp -r '{tree}' '{place}' && sync -f '{place}'"]))
                await copy.WaitForExitAsync();
            theirs.Add(watch.Elapsed.TotalSeconds);
            using (var read = Process.Start(
                "sh", ["-c", $"for file in '{place}'/*; do dd if=\"$file\" of=/dev/null bs=1M iflag=direct status=none; done"]))
                await read.WaitForExitAsync();
            proved.Add(watch.Elapsed.TotalSeconds);
            Directory.Delete(place, recursive: true);
        }

        var (ourMedian, theirMedian, provedMedian) = (AfterFirst(ours), AfterFirst(theirs), AfterFirst(proved));
        Console.WriteLine(
            $"{Files} files of {bytes / Files / 1e6:0} MB to a stick, each read back: {bytes / 1e6 / ourMedian:0} MB/s, cp and sync "
                + $"{bytes / 1e6 / theirMedian:0} MB/s; {ourMedian / theirMedian:0.00} times the time, wanted at most 1.2; cp, sync "
                + $"and reading back {bytes / 1e6 / provedMedian:0} MB/s, {ourMedian / provedMedian:0.00} times");
    }

    private static double AfterFirst(List<double> times) => times[1..].Median();

    private async Task<ServiceProvider> StartAsync(string name, string music, string sticks)
    {
        var options = optionsFor(2) with { DataFolder = Path.Combine(work, "data-" + name), AllowedBases = [work, sticks] };
        var app = new ServiceCollection().AddLogging(logging => logging.ClearProviders()).AddWergamon(options).BuildServiceProvider();
        foreach (var service in app.GetServices<IHostedService>())
            await service.StartAsync(CancellationToken.None);
        await app.GetRequiredService<BackgroundAnalysis>().StopAsync(CancellationToken.None);
        var folders = app.GetRequiredService<MusicFolders>();
        folders.Add(music);
        while (folders.List().Any(folder => folder is { IsScanning: true } or { ScannedAt: null }))
            await Task.Delay(100);
        return app;
    }

    private static long AddStick(ServiceProvider app, string place)
    {
        Directory.CreateDirectory(place);
        var sticks = app.GetRequiredService<MusicSticks>();
        long id = sticks.Add(place, null, "phone").Id!.Value;
        app.GetRequiredService<StickLists>()
            .AddPart(id, "All", LibraryPart.OfView(new TrackView("", [], null, null, TrackSort.Title, IsDescending: false)));
        return id;
    }

    private static async Task UpdateAsync(ServiceProvider app, long stick)
    {
        var (run, problem) = app.GetRequiredService<MusicSticks>().Update(stick);
        if (run is not { } id)
            throw new InvalidOperationException(problem);
        while (app.GetRequiredService<RunStore>().Get(id)!.State != RunState.Done)
            await Task.Delay(20);
        if (app.GetRequiredService<RunStore>().Get(id)!.Failed > 0)
            throw new InvalidOperationException("Some files were not written.");
    }
}
