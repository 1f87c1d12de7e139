using System.Diagnostics;
using System.Security.Cryptography;
using Dapper;
using Wergamon.App.Convert;
using Wergamon.App.Copies;
using Wergamon.App.Library.Removing;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Planning;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Runs;

public sealed class RunTests
{
    private const string FirstOutput = "The Quarry Lamps/Night Shift/01 Track 1.mp3";

    /// <summary>
    /// Without a worker nothing is called unreadable for good: conversions say what is missing, and once it is back everything goes on.
    /// </summary>
    [Fact]
    public async Task Missing_worker_is_reported_and_blames_no_file()
    {
        await using var app = new RunningApp(options => options with { WorkerPath = Path.Combine(options.DataFolder, "worker.dll") });
        app.AddTrack(1, 1);
        EncodedFile.Write(
            Path.Combine(app.Music, "movie.mkv"), "matroska", "aac", TestSound.Music(new PcmFormat(SampleRate.AudioDisc, 2, 16), 44_100));
        await app.StartAsync();
        await app.ScanAsync();
        var item = Assert.Single(await app.EndAsync(app.Run(app.Plan("archive"))));
        Assert.Equal(ItemState.Failed, item.State);
        Assert.Contains("worker.dll is missing", item.Failure, StringComparison.Ordinal);
        Assert.Contains(
            "The next scan tries again", Assert.Single(app.Get<MusicFolders>().ListUnreadable()).Reason, StringComparison.Ordinal);
        using var connection = app.Get<Database>().Open();
        Assert.Equal(0, connection.ExecuteScalar<int>("SELECT COUNT(*) FROM analysis"));
    }

    /// <summary>The name of a target is a name, whatever it looks like: copies go into a folder below that of all conversions.</summary>
    [Fact]
    public async Task A_target_of_any_name_writes_below_the_folder_of_conversions()
    {
        await using var app = new RunningApp();
        app.AddTrack(1, 1);
        await app.StartAsync();
        await app.ScanAsync();
        foreach (var name in (string[])["/any/where", "../../up", "..", "a/../../b", "CON", " . ", "\uFFFE"])
        {
            var key = app.Get<TargetChoices>().Add(StandardTargets.BuiltIn[0] with { Name = name });
            long plan = app.Get<Plans>().Create("Names", key, [1]);
            var folder = app.Get<Plans>().View(plan)!.OutputFolder;
            Assert.Equal(app.Options.Folders.Converted, Path.GetDirectoryName(folder));
            Assert.Equal(folder, Path.GetFullPath(folder));
            var made = Assert.Single(await app.EndAsync(app.Run(plan)));
            Assert.Equal((ItemState.Done, null), (made.State, made.Failure));
        }
    }

    [Fact]
    public async Task An_album_is_converted_and_proved_and_the_originals_stay_byte_for_byte()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        string[] sources = [app.AddTrack(1, 2), app.AddTrack(2, 1), app.AddTrack(3, 1.5)];
        var before = sources.Select(Sum).ToList();
        await app.ScanAsync();
        var items = await app.EndAsync(app.Run(app.Plan("pocket-player")));

        Assert.All(items, item => Assert.Equal(ItemState.Done, item.State));
        Assert.Equal(before, sources.Select(Sum));
        Assert.Equal(
            [FirstOutput, "The Quarry Lamps/Night Shift/02 Track 2.mp3", "The Quarry Lamps/Night Shift/03 Track 3.mp3"], app.OutputFiles());
        var tracks = app.Get<LibraryQueries>().TracksOfAlbum(app.Get<LibraryQueries>().Albums()[0].Id);
        Assert.All(tracks, track => Assert.Equal([Fidelity.Exact, Fidelity.Lossy], track.Copies.Select(copy => copy.Fidelity)));
        Assert.Equal(44_100 * 2, tracks[0].Copies[1].Sound.FrameCount);
        var lineage = Assert.Single(app.Get<LibraryQueries>().LineageOf(tracks[0].Id));
        Assert.Equal((tracks[0].Copies[1].Id, tracks[0].Master.Id), (lineage.CopyId, lineage.FromCopyId));
    }

    /// <summary>
    /// What a decoder makes of a file counts, whatever its header was taken to say; only a file that has changed is refused.
    /// </summary>
    [Fact]
    public async Task A_plan_made_on_a_wrong_header_is_corrected()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        app.AddTrack(1, 1);
        app.AddTrack(2, 1);
        await app.ScanAsync();
        app.Get<Database>()
            .Change(
                connection =>
                    connection.Execute("UPDATE copy SET sample_rate = 22050, channels = 1, channel_roles = 4, frame_count = 22050"));
        long plan = app.Plan("pocket-player");
        app.Get<Database>()
            .Change(connection => connection.Execute("UPDATE copy SET modified_at = modified_at - 1 WHERE path LIKE '%Shift 2%'"));
        var items = await app.EndAsync(app.Run(plan));

        Assert.Equal([ItemState.Done, ItemState.Failed], items.Select(item => item.State));
        Assert.Contains("has changed since it was planned", items[1].Failure, StringComparison.Ordinal);
        var copies = app.Get<LibraryQueries>().TracksOfAlbum(app.Get<LibraryQueries>().Albums()[0].Id)[0].Copies;
        Assert.All(copies, copy => Assert.Equal((44_100, 2, 44_100L), (copy.Sound.SampleRate, copy.Sound.Channels, copy.Sound.FrameCount)));
        Assert.Equal(44_100, items[0].Proof().FramesOut);
    }

    /// <summary>Originals go to the trash once their copies are proved, and not before; those that could not be converted stay.</summary>
    [Fact]
    public async Task Originals_move_to_the_trash_after_proof()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        string kept = app.AddTrack(1, 1), broken = app.AddTrack(2, 1);
        await app.ScanAsync();
        long plan = app.Plan("archive");
        app.Get<Plans>().SetTarget(
            plan, StandardTargets.BuiltIn[0] with { Sources = SourceDisposition.TrashAfterProof, ExcludedFromLibrary = false });
        long run = await app.RunAfterAsync(plan, () => File.WriteAllText(broken, "no longer a sound"));
        await RunningApp.UntilAsync(() => app.Get<RunStore>().Get(run)!.State == RunState.Done);

        var items = app.Get<RunStore>().Items(run);
        Assert.Equal([ItemState.Done, ItemState.Failed, ItemState.Done, ItemState.Failed], items.Select(item => item.State));
        Assert.False(File.Exists(kept));
        Assert.True(File.Exists(broken));
        Assert.Equal(kept, Assert.Single(app.Get<Trash>().List()).Path);
        var track = app.Get<LibraryQueries>().TracksOfAlbum(app.Get<LibraryQueries>().Albums()[0].Id)[0];
        Assert.Equal("flac", track.Master.Sound.FileFormat);
        Assert.Null(app.Get<Trash>().PutBack(app.Get<Trash>().List()[0].Id));
        Assert.True(File.Exists(kept));
    }

    /// <summary>A WAV made from an MP3 holds no more than the MP3, so the MP3 stays the master copy that later plans start from.</summary>
    [Fact]
    public async Task A_lossless_copy_of_a_lossy_one_is_no_master()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var original = app.AddTrack(1, 1);
        await app.ScanAsync();
        await app.EndAsync(app.Run(app.Plan("pocket-player")));
        File.Delete(original);
        await app.ScanAsync();
        var track = Assert.Single(app.Get<LibraryQueries>().TracksOfAlbum(app.Get<LibraryQueries>().Albums()[0].Id));
        Assert.Equal("mp3", track.Master.Sound.FileFormat);
        long plan = app.Plan("pocket-player");
        app.Get<Plans>().SetTarget(plan, new Target("editing", "Editing", new WavSettings()));
        Assert.Equal(ItemState.Done, Assert.Single(await app.EndAsync(app.Run(plan))).State);
        track = Assert.Single(app.Get<LibraryQueries>().TracksOfAlbum(app.Get<LibraryQueries>().Albums()[0].Id));
        Assert.Equal(["mp3", "wav", "wav"], track.Copies.Select(copy => copy.Sound.FileFormat));
    }

    /// <summary>Beside the sources, and out of the library: the files are there, the track has no second copy.</summary>
    [Fact]
    public async Task Copies_can_be_placed_beside_sources_and_outside_the_library()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var source = app.AddTrack(1, 1);
        await app.ScanAsync();
        long plan = app.Plan("pocket-player");
        app.Get<Plans>()
            .SetTarget(
                plan,
                StandardTargets.BuiltIn[1] with
                {
                    Place = OutputLocation.BesideSource,
                    ExcludedFromLibrary = true,
                    OnConflict = ConflictRule.ReplaceOlder
                });
        var item = Assert.Single(await app.EndAsync(app.Run(plan)));
        Assert.Equal(ItemState.Done, item.State);
        Assert.Equal(Path.ChangeExtension(source, ".mp3"), CopyResult.Of(item)!.Path);
        Assert.Null(CopyResult.Of(item)!.CopyId);
        // Made again, it is newer than its source.
        Assert.True(app.Get<Plans>().View(app.Plan("pocket-player"))!.Lines[0].Planned!.IsSkipped);
    }

    [Fact]
    public async Task A_killed_worker_loses_its_track_and_no_other()
    {
        await using var app = new RunningApp(options => options with { WorkerCount = 1 });
        await app.StartAsync();
        app.AddTrack(1, 60);
        app.AddTrack(2, 1);
        await app.ScanAsync();
        long run = app.Run(app.Plan("pocket-player"));
        // The first progress report shows that the worker is in the middle of the long track.
        await RunningApp.UntilAsync(() => app.Get<RunProgress>().View(run)!.Working.Values.Any(progress => progress.Share > 0));
        Process.GetProcessById(Assert.Single(app.Get<WorkerPool>().BusyProcessIds(WorkerPriority.Requested))).Kill();

        var items = await app.EndAsync(run);
        Assert.Equal([ItemState.Failed, ItemState.Done], items.Select(item => item.State));
        Assert.Contains("The worker crashed", items[0].Failure, StringComparison.Ordinal);
        Assert.Equal(["The Quarry Lamps/Night Shift/02 Track 2.mp3"], app.OutputFiles());

        app.Get<RunScheduler>().Retry(run);
        Assert.All(await app.EndAsync(run), item => Assert.Equal(ItemState.Done, item.State));
    }

    [Fact]
    public async Task A_worker_that_falls_silent_is_ended()
    {
        await using var app = new RunningApp(options => options with { WorkerCount = 1, WorkerSilence = TimeSpan.FromSeconds(3) });
        await app.StartAsync();
        app.AddTrack(1, 120);
        await app.ScanAsync();
        long run = app.Run(app.Plan("pocket-player"));
        await RunningApp.UntilAsync(() => app.Get<WorkerPool>().BusyProcessIds(WorkerPriority.Requested).Count > 0);
        using (var freeze = Process.Start(
            "kill",
            [
                "-STOP",
                Assert.Single(app.Get<WorkerPool>().BusyProcessIds(WorkerPriority.Requested))
                    .ToString(System.Globalization.CultureInfo.InvariantCulture)
            ]))
            await freeze.WaitForExitAsync();
        var item = Assert.Single(await app.EndAsync(run));
        Assert.Contains("did not respond", item.Failure, StringComparison.Ordinal);
        Assert.Empty(app.OutputFiles());
    }

    [Fact]
    public async Task A_worker_that_outgrows_its_memory_is_ended()
    {
        await using var app = new RunningApp(options => options with { WorkerCount = 1, WorkerMemoryBytes = 1 << 20 });
        await app.StartAsync();
        app.AddTrack(1, 120);
        await app.ScanAsync();
        var item = Assert.Single(await app.EndAsync(app.Run(app.Plan("pocket-player"))));
        Assert.Contains("more than 1 MB of memory", item.Failure, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Stopped_run_continues_where_it_was()
    {
        await using var app = new RunningApp(options => options with { WorkerCount = 1 });
        await app.StartAsync();
        app.AddTrack(1, 1);
        app.AddTrack(2, 60);
        app.AddTrack(3, 1);
        await app.ScanAsync();
        long run = app.Run(app.Plan("pocket-player"));
        await RunningApp.UntilAsync(() => app.Get<RunStore>().Items(run)[1].State == ItemState.Working);
        app.Get<RunScheduler>().Stop(run);
        await RunningApp.UntilAsync(() => app.Get<RunStore>().Items(run).All(item => item.State is ItemState.Done or ItemState.Waiting));
        Assert.Equal([FirstOutput], app.OutputFiles());
        var firstWritten = File.GetLastWriteTimeUtc(Path.Combine(app.Output, FirstOutput));

        app.Get<RunScheduler>().Continue(run);
        Assert.All(await app.EndAsync(run), item => Assert.Equal(ItemState.Done, item.State));
        Assert.Equal(["01", "02", "03"], app.OutputFiles().Select(path => Path.GetFileName(path)[..2]));
        Assert.Equal(firstWritten, File.GetLastWriteTimeUtc(Path.Combine(app.Output, FirstOutput)));
    }

    /// <summary>State left by a server killed between two states of one track.</summary>
    [Theory]
    [InlineData("working, half written")]
    [InlineData("proved, not yet named")]
    [InlineData("proved and named, not yet recorded")]
    public async Task A_killed_server_leaves_nothing_half_done(string moment)
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        app.AddTrack(1, 1);
        await app.ScanAsync();
        long run = app.Run(app.Plan("pocket-player"));
        var item = Assert.Single(await app.EndAsync(run));
        var final = Path.Combine(app.Output, FirstOutput);
        var temporary = Path.Combine(Path.GetDirectoryName(final)!, ".wergamon-1-abcdef01.part");
        var written = File.GetLastWriteTimeUtc(final);
        var proof = System.Text.Json.JsonSerializer.Serialize(item.Proof(), Core.Jobs.WorkerJson.Default.Proof);
        var checkpoint = $$"""{"version":1,"proof":{{proof}}}""";
        app.Get<Database>().Change(connection =>
        {
            connection.Execute("DELETE FROM copy WHERE path = @final", new { final });
            connection.Execute("UPDATE run SET state = 'running', ended_at = NULL");
            connection.Execute(
                "INSERT INTO file_change (kind, temporary_path, item_id) SELECT 'new', @temporary, id FROM run_item", new { temporary });
            connection.Execute("UPDATE run_item SET state = 'working', result = NULL, checkpoint = @checkpoint", new { checkpoint });
            switch (moment)
            {
                case "working, half written":
                    File.Delete(final);
                    File.WriteAllText(temporary, "half a file");
                    connection.Execute("UPDATE run_item SET checkpoint = NULL");
                    break;
                case "proved, not yet named":
                    File.Move(final, temporary);
                    break;
                default:
                    connection.Execute("UPDATE file_change SET final_path = @final", new { final });
                    break;
            }
        });
        await app.StopAsync();
        await app.StartAsync();
        Assert.Equal(ItemState.Done, Assert.Single(await app.EndAsync(run)).State);
        Assert.Equal([FirstOutput], app.OutputFiles());
        Assert.Equal(2, app.Get<LibraryQueries>().TracksOfAlbum(1)[0].Copies.Count);
        if (moment.StartsWith("proved", StringComparison.Ordinal))
            Assert.Equal(written, File.GetLastWriteTimeUtc(final));
    }

    [Theory]
    [InlineData(ConflictRule.KeepBoth)]
    [InlineData(ConflictRule.Skip)]
    [InlineData(ConflictRule.Replace)]
    public async Task Taken_name_loses_no_file(ConflictRule rule)
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        app.AddTrack(1, 1);
        await app.ScanAsync();
        var targets = app.Get<TargetChoices>();
        targets.Save(targets.Get("pocket-player") with { OnConflict = rule });
        long plan = app.Plan("pocket-player");
        var final = Path.Combine(app.Output, FirstOutput);
        Directory.CreateDirectory(Path.GetDirectoryName(final)!);
        // Taken between plan and run: the rule has to hold at the last moment.
        long run = await app.RunAfterAsync(plan, () => File.WriteAllText(final, "somebody else's"));
        var item = Assert.Single(await app.EndAsync(run));

        string[] expected = rule == ConflictRule.KeepBoth
            ? ["The Quarry Lamps/Night Shift/01 Track 1 (2).mp3", FirstOutput]
            : [FirstOutput];
        Assert.Equal(expected, app.OutputFiles());
        Assert.Equal(rule == ConflictRule.Skip ? ItemState.Skipped : ItemState.Done, item.State);
        Assert.Equal(rule != ConflictRule.Replace, File.ReadAllBytes(final).Length < 100);
        if (rule == ConflictRule.Replace)
            Assert.Equal(
                "somebody else's",
                File.ReadAllText(Assert.Single(Directory.GetFiles(app.Options.Folders.Trash, "*", SearchOption.AllDirectories))));
    }

    [Fact]
    public async Task A_file_of_a_music_folder_is_never_replaced()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var source = app.AddTrack(1, 1);
        var place = Path.Combine(app.Music, "The Quarry Lamps", "Night Shift", "01 Track 1.wav");
        Directory.CreateDirectory(Path.GetDirectoryName(place)!);
        File.Move(source, place);
        var before = Sum(place);
        await app.ScanAsync();
        var targets = app.Get<TargetChoices>();
        targets.Save(targets.Get("plain") with { OnConflict = ConflictRule.Replace });
        long plan = app.Plan("plain");
        app.Get<Plans>().SetOutputFolder(plan, app.Music);
        var item = Assert.Single(await app.EndAsync(app.Run(plan)));
        Assert.Equal(ItemState.Done, item.State);
        Assert.Equal(before, Sum(place));
        Assert.EndsWith("01 Track 1 (2).wav", item.Path(), StringComparison.Ordinal);
    }

    private static string Sum(string path) => System.Convert.ToHexString(SHA256.HashData(File.ReadAllBytes(path)));
}
