using System.Diagnostics;
using System.Globalization;
using Wergamon.App.Bench;
using Wergamon.App.Convert;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Library;
using Wergamon.App.Runs;
using Wergamon.App.Sets;
using Wergamon.App.Tags;
using Wergamon.Core.Tags;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Files;

/// <summary>
/// While runs of many kinds go on, somebody exchanges files and folders for links that lead out and for pipes, and puts them back. Whatever
/// happens to the runs, nothing outside is read, changed, made or removed, and nothing hangs.
/// </summary>
public sealed class ExchangeTests
{
    private const string Secret = "SECRET-OF-SOMEBODY-ELSE";

    private const int Tracks = 6;

    /// <summary>Two in every check; more with WERGAMON_KILLS=20.</summary>
    private static int Rounds => int.TryParse(Environment.GetEnvironmentVariable("WERGAMON_KILLS"), CultureInfo.InvariantCulture, out int rounds) ? Math.Max(1, rounds) : 2;

    [Fact]
    public async Task Nothing_outside_is_touched_while_files_are_exchanged()
    {
        for (int round = 0; round < Rounds; round++)
        {
            await using var app = new RunningApp(options => options with { WorkerSilence = TimeSpan.FromSeconds(20), ScanLimit = TimeSpan.FromSeconds(10) });
            var outside = LayOutside(app);
            var before = Snapshot(outside);
            for (int i = 1; i <= Tracks; i++)
                app.AddTrack(i, 1 + 0.25 * i);
            foreach (var folder in (string[])["stick", "drop", "output", "images"])
                Directory.CreateDirectory(app.Folder[folder]);
            await app.StartAsync();
            await app.ScanAsync();
            await RunningApp.UntilAsync(() => app.Get<BackgroundAnalysis>().CountLeft() == 0);

            using var end = new CancellationTokenSource();
            var exchanging = Task.Run(() => Exchange(app, outside, new Random(round), end.Token));
            var runs = StartAll(app);
            // Those that wait for a drive that seems away, or have failed, have ended, too.
            await RunningApp.UntilAsync(() => runs.All(run => app.Get<RunStore>().Get(run) is null or { State: RunState.Done or RunState.Stopped }));
            app.Get<MusicFolders>().RescanAll();
            await RunningApp.UntilAsync(() => !app.Get<MusicFolders>().IsScanning);
            await end.CancelAsync();
            await exchanging;

            Assert.Equal(before, Snapshot(outside));
            foreach (var file in Directory.EnumerateFiles(app.Folder.Path, "*", new EnumerationOptions { RecurseSubdirectories = true, AttributesToSkip = FileAttributes.ReparsePoint }).Where(path => !path.StartsWith(outside, StringComparison.Ordinal) && IsRegular(path)))
                Assert.False(File.ReadAllBytes(file).AsSpan().IndexOf("SECRET-OF-SOMEBODY-ELSE"u8) >= 0, $"{file} holds what is outside");
            Assert.DoesNotContain(app.Get<LibraryQueries>().TracksById([.. Enumerable.Range(1, 50).Select(id => (long)id)]), track => track.Artist.Contains(Secret, StringComparison.Ordinal));
        }
    }

    private static List<long> StartAll(RunningApp app)
    {
        var tracks = app.Get<LibraryQueries>().TracksById([.. Enumerable.Range(1, Tracks).Select(id => (long)id)]).Select(track => track.Id).ToList();
        var copies = app.Get<LibraryQueries>().TracksById(tracks).Select(track => track.Master.Id).ToList();
        var runs = new List<long?>();
        foreach (var target in (string[])["archive", "pocket-player", "small-share"])
        {
            long plan = app.Get<Plans>().Create("Exchange", target, tracks);
            _ = app.Get<Plans>().SetOutputFolder(plan, app.Output);
            runs.Add(app.Get<Plans>().Start(plan));
        }

        long sheet = app.Get<TagSheets>().Create("Exchange", copies);
        app.Get<TagSheets>().SetFields(sheet, copies.Select(id => (id, FieldNames.Comment, (IReadOnlyList<string>)[new string('c', 5000)])));
        runs.Add(app.Get<TagRuns>().Write(sheet, allCopies: false));

        long set = app.Get<SetStore>().Create("Exchange")!.Value;
        app.Get<MusicSets>().Add(set, tracks);
        if (app.Get<MusicSticks>().Add(app.Folder["stick"], "Stick", "car-radio").Id is { } stick)
        {
            app.Get<MusicSticks>().AddSet(stick, set);
            runs.Add(app.Get<MusicSticks>().Update(stick).RunId);
        }

        _ = app.Get<DropFolderStore>().Add(app.Folder["drop"], "archive", app.Output, takesOriginals: true);
        long joined = app.Get<JoinedFiles>().Create("Joined", tracks);
        app.Get<JoinedFiles>().SetSettings(joined, JoinedSettings.Of(app.Get<DeliveryStore>().Get(joined)!) with { Folder = app.Folder["images"] });
        runs.Add(app.Get<JoinedFiles>().Start(joined).RunId);
        app.Get<RunScheduler>().Wake();
        return [.. runs.OfType<long>()];
    }

    /// <summary>Files of a stranger, of the kinds that runs look for, each with a mark that must be found nowhere else.</summary>
    private static string LayOutside(RunningApp app)
    {
        var outside = app.Folder["outside"];
        Directory.CreateDirectory(Path.Combine(outside, "Night"));
        foreach (var path in (string[])["secret.wav", "Night/001 secret.wav", "Night/002 secret.mp3"])
            PoisonFile.Write(Path.Combine(outside, path), ("TIT2", PoisonFile.Text("Stranger")), ("TPE1", [3, .. "SECRET-OF-SOMEBODY-ELSE"u8]), ("TALB", PoisonFile.Text("Elsewhere")));
        File.WriteAllText(Path.Combine(outside, "Night.m3u8"), "#EXTM3U\n#EXTINF:1,SECRET-OF-SOMEBODY-ELSE\nsecret.wav\n");
        return outside;
    }

    /// <summary>Takes something away, puts a link that leads out, or a pipe, in its place for a moment, and puts it back.</summary>
    private static void Exchange(RunningApp app, string outside, Random random, CancellationToken end)
    {
        while (!end.IsCancellationRequested)
        {
            foreach (var path in Chosen(app, random))
            {
                var kept = app.Folder[$"kept-{random.Next()}"];
                try
                {
                    bool isFolder = Directory.Exists(path);
                    Move(path, kept);
                    if (isFolder)
                        Directory.CreateSymbolicLink(path, random.Next(2) == 0 ? outside : Path.Combine(outside, "Night"));
                    else if (random.Next(3) == 0)
                        MakePipe(path);
                    else
                        File.CreateSymbolicLink(path, Path.Combine(outside, random.Next(2) == 0 ? "secret.wav" : "Night.m3u8"));
                    Thread.Sleep(random.Next(30));
                    Remove(path);
                    Move(kept, path);
                }
                catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
                {
                    // A run was quicker: what was taken away goes back if its name is free, and is kept otherwise.
                    if (Path.Exists(kept) && !Path.Exists(path))
                        Try(() => Move(kept, path));
                }
            }

            Thread.Sleep(random.Next(10));
        }
    }

    private static List<string> Chosen(RunningApp app, Random random)
    {
        var candidates = new List<string>();
        foreach (var folder in (string[])["music", "output", "stick", "drop", "images"])
        {
            candidates.Add(app.Folder[folder]);
            Try(() => candidates.AddRange(Directory.EnumerateFileSystemEntries(app.Folder[folder], "*", new EnumerationOptions { RecurseSubdirectories = true, AttributesToSkip = FileAttributes.ReparsePoint })));
        }

        return [.. candidates.OrderBy(_ => random.Next()).Take(3)];
    }

    private static void Move(string from, string to)
    {
        if (Directory.Exists(from))
            Directory.Move(from, to);
        else
            File.Move(from, to);
    }

    private static void Remove(string path)
    {
        if (new FileInfo(path).LinkTarget is not null || File.Exists(path))
            File.Delete(path);
    }

    private static void MakePipe(string path)
    {
        using var process = Process.Start("mkfifo", [path]);
        process.WaitForExit();
    }

    private static void Try(Action step)
    {
        try
        {
            step();
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            // Changed meanwhile.
        }
    }

    private static bool IsRegular(string path) => FileSystem.PlainFile.Exists(path);

    private static string Snapshot(string folder) => string.Join('\n', Directory.EnumerateFileSystemEntries(folder, "*", SearchOption.AllDirectories).Order(StringComparer.Ordinal)
        .Select(path => Directory.Exists(path) ? path : $"{path} {System.Convert.ToHexString(System.Security.Cryptography.SHA256.HashData(File.ReadAllBytes(path)))} {File.GetLastWriteTimeUtc(path):O}"));
}
