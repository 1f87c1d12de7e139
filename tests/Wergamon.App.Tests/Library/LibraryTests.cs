using Wergamon.App.Convert;
using Wergamon.App.Copies;
using Wergamon.App.Files;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;

namespace Wergamon.App.Tests.Library;

public sealed class LibraryTests
{
    [Fact]
    public async Task Unreadable_files_are_listed_with_the_reason()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        app.AddTrack(1, 1);
        File.WriteAllText(Path.Combine(app.Music, "list.flac"), "milk, bread, lamp oil");
        File.WriteAllBytes(Path.Combine(app.Music, "empty.mp3"), []);
        File.WriteAllText(Path.Combine(app.Music, "notes.txt"), "no music by its name");
        await app.ScanAsync();
        Assert.Equal(["empty.mp3", "list.flac"], app.Get<MusicFolders>().ListUnreadable().Select(file => Path.GetFileName(file.Path)));
        Assert.All(app.Get<MusicFolders>().ListUnreadable(), file => Assert.NotEmpty(file.Reason));
        Assert.Equal(1, app.Get<LibraryQueries>().CountTracks());
    }

    [Fact]
    public async Task Second_scan_changes_nothing_and_a_removed_file_is_kept_as_missing()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        using var noAnalysis = app.Get<WorkerPool>().PauseBackground();
        app.AddTrack(1, 1);
        var second = app.AddTrack(2, 1);
        await app.ScanAsync();
        var before = app.Get<LibraryQueries>().TracksOfAlbum(1);
        await app.ScanAsync();
        Assert.Equal(
            before.Select(track => (track.Id, track.Master)),
            app.Get<LibraryQueries>().TracksOfAlbum(1).Select(track => (track.Id, track.Master)));
        File.Delete(second);
        await app.ScanAsync();
        Assert.Equal([false, true], app.Get<LibraryQueries>().TracksOfAlbum(1).Select(track => track.Master.IsMissing));
    }

    [Fact]
    public async Task Untagged_files_take_their_facts_from_their_names_into_the_copies()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var folder = Path.Combine(app.Music, "Odalys Fenn - Carbide (2024)");
        Directory.CreateDirectory(folder);
        var bare = app.AddTrack(1, 1);
        var bytes = File.ReadAllBytes(bare);
        // Without its tag chunk the file ends with the audio; its header states more, which is reported and harmless.
        File.WriteAllBytes(Path.Combine(folder, "02 Seam of Light.wav"), bytes[..(80 + 4 * 44_100)]);
        File.Delete(bare);
        await app.ScanAsync();
        var items = await app.EndAsync(app.Run(app.Plan("archive")));
        Assert.Equal("Odalys Fenn/Carbide/02 Seam of Light.flac", Path.GetRelativePath(app.Output, Assert.Single(items).Path()));
        using var stream = File.OpenRead(items[0].Path());
        var tags = Core.Formats.Registry.FileReading.ReadTags(stream).Tags;
        Assert.Equal(
            ("Seam of Light", "Odalys Fenn", "2024", "2"),
            (tags.First("title"), tags.First("artist"), tags.First("year"), tags.First("track")));
    }

    [Fact]
    public async Task Only_folders_below_an_allowed_base_are_accepted()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var paths = app.Get<AllowedPaths>();
        var link = app.Folder["link-out"];
        Directory.CreateSymbolicLink(link, "/etc");
        var file = app.AddTrack(1, 0.1);
        Assert.Null(paths.CheckMusicFolder(app.Music).Refusal);
        foreach (var bad in new[]
        {
            "/etc", link, app.Music + "/../../../etc", app.Folder.Path + "-beside", "music", "", "   ", "/nul\0l", app.Folder["not-there"],
            file
        })
            Assert.True(paths.CheckMusicFolder(bad).Refusal is { Length: > 10 }, bad);
        foreach (var bad in new[] { "/etc/wergamon", link + "/new", "relative/out", file })
            Assert.True(paths.CheckOutputFolder(bad).Refusal is { Length: > 10 }, bad);
        Assert.NotNull(app.Get<MusicFolders>().Add("/etc"));
        Assert.Empty(app.Get<MusicFolders>().List());
    }

    [Fact]
    public async Task Changed_tags_move_a_track_and_leave_no_empty_album()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var path = app.AddTrack(1, 0.1);
        await app.ScanAsync();
        var before = Assert.Single(app.Get<LibraryQueries>().TracksOfAlbum(1));
        var renamed = app.AddTrack(7, 0.2, "Day Shift");
        File.Move(renamed, path, overwrite: true);
        await app.ScanAsync();
        var album = Assert.Single(app.Get<LibraryQueries>().Albums());
        Assert.Equal("Day Shift", album.Title);
        var after = Assert.Single(app.Get<LibraryQueries>().TracksOfAlbum(album.Id));
        Assert.Equal((before.Id, "Track 7", 7), (after.Id, after.Title, after.Number));
    }

    [Fact]
    public async Task Folder_inside_a_music_folder_is_refused()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var inner = Path.Combine(app.Music, "100% live_takes");
        Directory.CreateDirectory(inner);
        var folders = app.Get<MusicFolders>();
        Assert.Null(folders.Add(app.Music));
        Assert.Contains("already", folders.Add(app.Music), StringComparison.Ordinal);
        Assert.Contains("already in the library", folders.Add(inner), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Choices_for_a_target_are_kept()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var targets = app.Get<TargetChoices>();
        var chosen = targets.Get("pocket-player") with
        {
            Encoder = Core.Formats.Mp3.Mp3Settings.Variable(4),
            HighestRate = new Core.Audio.SampleRate(48_000)
        };
        targets.Save(chosen);
        await app.StopAsync();
        await app.StartAsync();
        Assert.Equal(chosen, app.Get<TargetChoices>().Get("pocket-player"));
        Assert.Equal("archive", app.Get<TargetChoices>().Get("no such target").Key);
    }

    [Fact]
    public async Task A_plan_keeps_its_target_when_another_plan_or_the_target_changes()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        app.AddTrack(1, 1);
        await app.ScanAsync();
        var plans = app.Get<Plans>();
        long first = app.Plan("pocket-player"), second = app.Plan("pocket-player");
        var before = plans.View(first)!.Target;
        plans.SetTarget(second, before with { Encoder = Core.Formats.Mp3.Mp3Settings.Constant(96) });
        Assert.Equal(before, plans.View(first)!.Target);
        Assert.Equal(Core.Formats.Mp3.Mp3Settings.Constant(96), plans.View(second)!.Target.Encoder);
        Assert.Equal(Core.Formats.Mp3.Mp3Settings.Constant(96), plans.View(app.Plan("pocket-player"))!.Target.Encoder);
    }

    [Fact]
    public async Task Plan_skips_excluded_and_missing_tracks()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        app.AddTrack(1, 1);
        app.AddTrack(2, 1);
        File.Delete(app.AddTrack(3, 1));
        var gone = app.AddTrack(4, 1);
        await app.ScanAsync();
        long id = app.Plan("plain");
        var plans = app.Get<App.Convert.Plans>();
        plans.SetLeftOut(id, [0], true);
        File.Delete(gone);
        await app.ScanAsync();
        var view = plans.View(id)!;
        Assert.Equal([false, true, false], view.Lines.Select(line => line.WillRun));
        Assert.Equal((1, true), (view.Count, view.HasRoom));
        // A WAV with the same samples and tags is as large as before, but for the reserved chunk in front.
        Assert.InRange(view.BytesThen, view.BytesNow - 4096, view.BytesNow + 4096);
        Assert.True(view.IsAllExact);
        Assert.Equal(1, plans.CountOpen());
        long? run = plans.Start(id);
        Assert.NotNull(run);
        // Submitting twice gives one run.
        Assert.Equal(run, plans.Start(id));
        Assert.Single(app.Get<RunStore>().List(5));
        Assert.Equal(0, plans.CountOpen());
    }
}
