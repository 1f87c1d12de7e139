using System.Diagnostics;
using System.Globalization;
using System.Text;
using Dapper;
using Wergamon.App.Files;
using Wergamon.App.Library.Listening;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;
using Wergamon.Core.Audio;
using Wergamon.Core.Tags;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Library;

/// <summary>Hostile contents of music folders: they neither keep the rest from coming in nor leak anything.</summary>
public sealed class HostileFileTests
{
    [Fact]
    public async Task Pipes_devices_links_and_names_that_are_not_text_are_reported_and_the_rest_comes_in()
    {
        await using var app = new RunningApp();
        app.AddTrack(1, 1);
        await RunAsync("mkfifo", Path.Combine(app.Music, "pipe.flac"));
        File.CreateSymbolicLink(Path.Combine(app.Music, "device.mp3"), "/dev/zero");
        File.CreateSymbolicLink(Path.Combine(app.Music, "cover.jpg"), "/dev/zero");
        // A name of bytes that are not UTF-8, which .NET itself cannot make.
        await RunAsync(
            "/bin/sh", "-c", "cp \"$0\" \"$(dirname \"$0\")/$(printf 'caf\\351.wav')\"", Directory.GetFiles(app.Music, "*.wav").Single());
        await app.StartAsync();
        await app.ScanAsync();
        Assert.Single(app.Get<LibraryQueries>().TracksOfAlbum(Assert.Single(app.Get<LibraryQueries>().Albums()).Id));
        var unreadable = app.Get<MusicFolders>().ListUnreadable();
        Assert.Equal(2, unreadable.Count);
        Assert.Contains(unreadable, file => file.Reason.Contains("not valid UTF-8", StringComparison.Ordinal));
        Assert.Contains(unreadable, file => file.Reason.Contains("pipe", StringComparison.Ordinal));
    }

    /// <summary>
    /// A fault of the application itself at one file, in any step of taking it in, costs that file alone; it is tried again when it
    /// changes.
    /// </summary>
    [Theory]
    [InlineData("copy", "NEW.path LIKE '%Poison%'")]
    [InlineData("tag", "(SELECT path FROM copy WHERE id = NEW.copy_id) LIKE '%Poison%'")]
    [InlineData("match_key", "(SELECT path FROM copy WHERE id = NEW.copy_id) LIKE '%Poison%'")]
    [InlineData("track_line", "NEW.path LIKE '%Poison%'")]
    [InlineData("analysis", "(SELECT path FROM copy WHERE id = NEW.copy_id) LIKE '%Poison%'")]
    public async Task A_fault_at_one_file_costs_that_file_alone(string table, string condition)
    {
        await using var app = new RunningApp();
        var poison = app.AddTrack(9, 1.9, "Poison");
        for (int i = 1; i <= 3; i++)
            app.AddTrack(i, i);
        await app.StartAsync(
            database =>
                database.Change(
                    connection =>
                        connection.Execute(
                            $"CREATE TRIGGER poison BEFORE INSERT ON {table} WHEN {condition} BEGIN "
                                + "SELECT RAISE(ABORT, 'out of order'); END")));
        await app.ScanAsync();
        for (int restart = 0; restart < 2; restart++)
        {
            await RunningApp.UntilAsync(
                () => app.Get<LibraryQueries>().CountTracks() >= 3 && app.Get<BackgroundAnalysis>().CountLeft() == 0);
            await RunningApp.UntilAsync(() => app.Get<MusicFolders>().ListUnreadable().Count == 1);
            var listed = app.Get<MusicFolders>().ListUnreadable()[0];
            Assert.Equal((poison, true), (listed.Path, listed.Reason.StartsWith("It could not be examined: ", StringComparison.Ordinal)));
            await app.StopAsync();
            await app.StartAsync();
            await app.ScanAsync();
        }

        app.Get<Database>().Change(connection => connection.Execute("DROP TRIGGER poison"));
        File.SetLastWriteTimeUtc(poison, DateTime.UtcNow.AddMinutes(1));
        await app.ScanAsync();
        await RunningApp.UntilAsync(
            () => app.Get<MusicFolders>().ListUnreadable().Count == 0 && app.Get<LibraryQueries>().CountTracks() == 4
                && app.Get<BackgroundAnalysis>().CountLeft() == 0);
    }

    /// <summary>The worker of a run hangs, and so does that of one file; everything else comes in all the same.</summary>
    [Fact]
    public async Task A_scan_waits_neither_for_runs_nor_for_a_file_that_takes_too_long()
    {
        await using var app = new RunningApp(
            options => options with { WorkerCount = 1, WorkerSilence = TimeSpan.FromMinutes(10), ScanLimit = TimeSpan.FromSeconds(10) });
        await app.StartAsync();
        app.AddTrack(1, 120);
        await app.ScanAsync();
        app.Run(app.Plan("pocket-player"));
        await FreezeAsync(app.Get<WorkerPool>(), WorkerPriority.Requested);

        var endless = Path.Combine(app.Music, "endless.flac");
        WriteEndless(endless);
        EncodedFile.Write(
            Path.Combine(app.Music, "movie.mkv"), "matroska", "aac", TestSound.Music(new PcmFormat(SampleRate.AudioDisc, 2, 16), 44_100));
        app.AddTrack(2, 1);
        var scan = app.ScanAsync();
        await FreezeReaderAsync(endless, app);
        await scan;
        Assert.Equal(3, app.Get<LibraryQueries>().CountTracks());
        var given = Assert.Single(app.Get<MusicFolders>().ListUnreadable());
        Assert.Equal(
            ("endless.flac", true), (Path.GetFileName(given.Path), given.Reason.Contains("longer than 10 s", StringComparison.Ordinal)));
    }

    private static async Task FreezeAsync(WorkerPool workers, WorkerPriority priority)
    {
        await RunningApp.UntilAsync(() => workers.BusyProcessIds(priority).Count > 0);
        await RunAsync("kill", "-STOP", workers.BusyProcessIds(priority).First().ToString(CultureInfo.InvariantCulture));
    }

    /// <summary>Freezes the worker that has a file open, unless the scan, on a busy machine, has given the file up before.</summary>
    private static async Task FreezeReaderAsync(string path, RunningApp app)
    {
        int? Reader() => app.Get<WorkerPool>().BusyProcessIds(WorkerPriority.Scan)
            .Select(id => (int?)id)
            .FirstOrDefault(id => OpenFiles(id!.Value).Contains(path));
        await RunningApp.UntilAsync(() => Reader() is not null || app.Get<MusicFolders>().ListUnreadable().Count > 0);
        if (Reader() is { } reader)
            await RunAsync("kill", "-STOP", reader.ToString(CultureInfo.InvariantCulture));
    }

    /// <summary>What a process has open; proc_pid_fd(5). Empty for one that has ended.</summary>
    private static string?[] OpenFiles(int processId)
    {
        try
        {
            return [.. Directory.EnumerateFiles($"/proc/{processId}/fd").Select(link => File.ResolveLinkTarget(link, false)?.FullName)];
        }
        catch (IOException)
        {
            return [];
        }
    }

    /// <summary>FLAC that does not say how long it is, and takes long to decode: one frame of silence, over and over.</summary>
    private static void WriteEndless(string path)
    {
        const int LengthAt = 22;
        EncodedFile.Write(
            path, "flac", "flac",
            new TestSound(new PcmFormat(SampleRate.AudioDisc, 2, 16), 3 * 4608, (block, _) => block.Integers.Clear()));
        var bytes = File.ReadAllBytes(path);
        ReadOnlySpan<byte> mark = [0xFF, 0xF8];
        int first = bytes.AsSpan().IndexOf(mark), second = first + 2 + bytes.AsSpan(first + 2).IndexOf(mark);
        bytes.AsSpan(LengthAt, 4).Clear();
        using var file = File.Create(path);
        file.Write(bytes.AsSpan(0, first));
        for (int i = 0; i < 1_000_000; i++)
            file.Write(bytes.AsSpan(first..second));
    }

    [Fact]
    public async Task A_cover_behind_a_link_that_leads_out_is_not_imported_and_one_that_stays_inside_is()
    {
        await using var app = new RunningApp();
        var picture = System.Convert.FromBase64String(
            "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==");
        var outside = Path.GetTempFileName();
        try
        {
            File.WriteAllBytes(outside, picture);
            File.WriteAllBytes(Path.Combine(Directory.CreateDirectory(Path.Combine(app.Music, "art")).FullName, "inside.png"), picture);
            await app.StartAsync();
            foreach (var (target, expected) in new[] { (outside, 0), (Path.Combine(app.Music, "art", "inside.png"), 1) })
            {
                var link = Path.Combine(app.Music, "cover.png");
                File.Delete(link);
                File.CreateSymbolicLink(link, target);
                File.Delete(app.AddTrack(1, 1));
                app.AddTrack(1, 1 + expected);
                await app.ScanAsync();
                var track = Assert.Single(app.Get<LibraryQueries>().TracksOfAlbum(app.Get<LibraryQueries>().Albums()[0].Id));
                Assert.Equal(expected, app.Get<LibraryQueries>().PicturesOf(track.Master.Id).Count(one => one.Kind == PictureKind.Front));
            }
        }
        finally
        {
            File.Delete(outside);
        }
    }

    [Fact]
    public async Task A_copy_that_was_exchanged_for_a_link_is_neither_read_nor_converted()
    {
        await using var app = new RunningApp();
        var path = app.AddTrack(1, 1);
        await app.StartAsync();
        await app.ScanAsync();
        Assert.True(app.Get<AllowedPaths>().MayRead(path));
        long plan = app.Plan("plain");
        File.Delete(path);
        File.CreateSymbolicLink(path, "/etc/hostname");
        Assert.False(app.Get<AllowedPaths>().MayRead(path));
        var item = Assert.Single(await app.EndAsync(app.Run(plan)));
        Assert.Equal(ItemState.Failed, item.State);
        Assert.Contains("allowed folder", item.Failure, StringComparison.Ordinal);
        Assert.Empty(app.OutputFiles());
    }

    [Fact]
    public async Task A_folder_above_a_music_folder_takes_it_in_and_nothing_is_read_twice()
    {
        await using var app = new RunningApp();
        app.AddTrack(1, 1);
        await app.StartAsync();
        await app.ScanAsync();
        long copy = app.Get<LibraryQueries>().TracksOfAlbum(app.Get<LibraryQueries>().Albums()[0].Id)[0].Master.Id;
        var folders = app.Get<MusicFolders>();
        Assert.Null(folders.Add(app.Folder.Path));
        await RunningApp.UntilAsync(() => folders.List() is [{ IsScanning: false, ScannedAt: not null }]);
        Assert.Equal(app.Folder.Path, Assert.Single(folders.List()).Path);
        Assert.Equal(copy, Assert.Single(app.Get<LibraryQueries>().TracksOfAlbum(app.Get<LibraryQueries>().Albums()[0].Id)).Master.Id);
        Assert.Contains("is inside the music folder", folders.Add(app.Music), StringComparison.Ordinal);
    }

    /// <summary>Two million characters; a cut could leave half a surrogate pair.</summary>
    [Fact]
    public async Task A_title_of_two_megabytes_stays_in_the_file_and_is_listed_by_its_start()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var path = Path.Combine(app.Music, "long.wav");
        var tags = new TagSet();
        tags.Set(FieldNames.Title, string.Concat(Enumerable.Repeat("𝄞", 1_000_000)));
        tags.Set(FieldNames.Album, "Night Shift");
        var format = new Core.Audio.PcmFormat(Core.Audio.SampleRate.AudioDisc, 2, 16);
        using (var writer = new Core.Formats.Wav.WavWriter(
            File.Create(path), format, tail: [new Core.Formats.Iff.TailChunk("id3 ", Core.Tags.Id3v2.Id3v2Writer.Write(tags))]))
            TestSound.Music(format, 4410).CopyTo(writer);
        await app.ScanAsync();
        var track = Assert.Single(app.Get<LibraryQueries>().TracksOfAlbum(app.Get<LibraryQueries>().Albums()[0].Id));
        Assert.InRange(track.Title.Length, 100, 400);
        Assert.True(track.Title.IsNormalized(), "Half a letter is left.");
        Assert.InRange(app.Get<LibraryQueries>().TagsOf(track.Master.Id).First(FieldNames.Title)!.Length, 60_000, 1 << 16);
        using var stream = File.OpenRead(path);
        Assert.Equal(2_000_000, Core.Formats.Registry.FileReading.ReadTags(stream).Tags.First(FieldNames.Title)!.Length);
    }

    private static async Task RunAsync(string program, params string[] arguments)
    {
        using var process = Process.Start(
            new ProcessStartInfo(program, arguments) { StandardErrorEncoding = Encoding.UTF8, RedirectStandardError = true })!;
        await process.WaitForExitAsync();
        Assert.Equal(0, process.ExitCode);
    }
}
