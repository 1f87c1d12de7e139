using System.Diagnostics;
using System.Globalization;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App;
using Wergamon.App.Library.Listening;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tags;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;

namespace Wergamon.Bench;

/// <summary>One field changed in 2,000 files that have room for it, beside python3-mutagen doing the same.</summary>
internal sealed class TagBench(string workFolder, Func<int, AppOptions> optionsFor)
{
    private const int Files = 2_000;

    private const string Script =
        """
        import sys, time, mutagen
        from mutagen.id3 import ID3, TCON
        files = sys.stdin.read().split('\n')
        start = time.perf_counter()
        for f in files:
            m = mutagen.File(f)
            if isinstance(m.tags, ID3):
                m.tags.setall('TCON', [TCON(encoding=3, text=[sys.argv[1]])]); m.save(v2_version=3)
            else:
                m.tags['\xa9gen' if f.endswith('.m4a') else 'genre'] = [sys.argv[1]]; m.save()
        print(time.perf_counter() - start)
        """;

    public async Task RunAsync()
    {
        var (ours, theirs) = (Path.Combine(workFolder, "tags-ours"), Path.Combine(workFolder, "tags-theirs"));
        MusicTree.Make(ours, Files);
        MusicTree.Make(theirs, Files);
        var mine = FilesOf(ours);
        // The first edit of each makes the room.
        Change(mine, "First");
        Mutagen(FilesOf(theirs), "First");
        const int Rounds = 3;
        var ratios = new List<(double Ratio, double Ours, double Theirs, long Bytes)>();
        for (int round = 0; round < Rounds; round++)
        {
            var watch = Stopwatch.StartNew();
            long bytes = Change(mine, $"Genre {round}");
            double seconds = watch.Elapsed.TotalSeconds;
            double other = Mutagen(FilesOf(theirs), $"Genre {round}");
            ratios.Add((other / seconds, seconds, other, bytes));
        }

        var median = ratios.OrderBy(each => each.Ratio).ElementAt(Rounds / 2);
        Console.WriteLine(
            $"One field in {Files:N0} files, planned, written in place and proved: {median.Ours:0.00} s on one thread, python3-mutagen "
                + $"{median.Theirs:0.00} s: {median.Ratio:0.0} times as fast, wanted at least 4; {median.Bytes / (double)Files:0} "
                + "bytes written a file");
        await WholeAsync(ours);
    }

    /// <summary>The same through the application: sheet, run, journal, library, undo.</summary>
    private async Task WholeAsync(string tree)
    {
        await using var services = new ServiceCollection().AddLogging(logging => logging.ClearProviders())
            .AddWergamon(optionsFor(1) with { DataFolder = Path.Combine(workFolder, "tags-data"), AllowedBases = [workFolder] })
            .BuildServiceProvider();
        foreach (var service in services.GetServices<IHostedService>())
            await service.StartAsync(CancellationToken.None);
        var folders = services.GetRequiredService<MusicFolders>();
        folders.Add(tree);
        while (folders.List().Any(folder => folder.IsScanning || folder.ScannedAt is null))
            await Task.Delay(100);
        // The library is at rest: its files are analysed.
        while (services.GetRequiredService<BackgroundAnalysis>().CountLeft() > 0)
            await Task.Delay(200);
        var sheets = services.GetRequiredService<TagSheets>();
        long sheet = sheets.Create("bench", [.. Enumerable.Range(1, Files).Select(id => (long)id)]);
        var watch = Stopwatch.StartNew();
        sheets.SetFields(sheet, sheets.Files(sheet).Select(file => (file.CopyId, FieldNames.Genre, (IReadOnlyList<string>)["Whole"])));
        Console.WriteLine($"  a field of {Files:N0} files on a sheet: {watch.Elapsed.TotalMilliseconds:0} ms");
        watch.Restart();
        long run = services.GetRequiredService<TagRuns>().Write(sheet, allCopies: false)!.Value;
        while (services.GetRequiredService<RunStore>().Get(run)!.State != RunState.Done)
            await Task.Delay(50);
        Console.WriteLine($"  written by a run with journal, flush and library: {watch.Elapsed.TotalSeconds:0.0} s");
        foreach (var service in services.GetServices<IHostedService>())
            await service.StopAsync(CancellationToken.None);
    }

    private static string[] FilesOf(string tree) => [.. Directory.GetDirectories(tree).SelectMany(Directory.GetFiles)];

    private static long Change(string[] files, string genre)
    {
        long bytes = 0;
        foreach (var path in files)
        {
            using var stream = new FileStream(path, FileMode.Open, FileAccess.ReadWrite, FileShare.Read, 1 << 14);
            var format = (TaggedFormat)FileFormats.Of(stream)!;
            var tags = FileReading.ReadTags(stream).Tags;
            tags.Set(FieldNames.Genre, genre);
            var sound = format.HashSound(stream);
            var edit = format.EditTags(stream, tags, TagWriteOptions.Usual);
            if (edit.IsInPlace)
            {
                var patches = edit.Patches(stream);
                foreach (var patch in patches)
                {
                    stream.Position = patch.Offset;
                    stream.Write(patch.Bytes.Span);
                    bytes += patch.Bytes.Length;
                }

                stream.SetLength(edit.Length);
                stream.Flush();
            }
            else
            {
                var whole = new MemoryStream();
                edit.WriteTo(stream, whole);
                stream.SetLength(0);
                whole.WriteTo(stream);
                bytes += whole.Length;
            }

            if (format.HashSound(stream) != sound || FileReading.ReadTags(stream).Tags.First(FieldNames.Genre) != genre)
                throw new InvalidOperationException($"{path} did not read back.");
        }

        return bytes;
    }

    private static double Mutagen(string[] files, string genre)
    {
        var start = new ProcessStartInfo("/usr/bin/python3", ["-c", Script, genre])
        {
            RedirectStandardInput = true,
            RedirectStandardOutput = true
        };
        using var process = Process.Start(start)!;
        process.StandardInput.Write(string.Join('\n', files));
        process.StandardInput.Close();
        return double.Parse(process.StandardOutput.ReadToEnd(), CultureInfo.InvariantCulture);
    }
}
