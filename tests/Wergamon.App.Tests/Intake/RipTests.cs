using System.Security.Cryptography;
using Dapper;
using Wergamon.App.Intake;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Tags;
using Wergamon.Devices.Catalogue;
using Wergamon.Devices.Drives;
using Wergamon.Testing.Outside;

namespace Wergamon.App.Tests.Intake;

/// <summary>From a disc in a drive to proved copies in the library.</summary>
public sealed class RipTests
{
    private const string Drive = "A";

    [Fact]
    public async Task One_reading_gives_every_target_and_the_lossless_one_is_the_disc()
    {
        await using var app = new RunningApp();
        var rack = new TestRack(app.Options.RackFolder);
        await app.StartAsync();
        await InsertAsync(app);
        var items = await RipAsync(app, new RipSettings { Targets = ["archive", "pocket-player"], OutputFolder = app.Output });
        Assert.All(items, item => Assert.Equal(ItemState.Done, item.State));
        Assert.Equal(
            [
                "Archive/The Quarry Lamps/Lamp Room/01 Brass Tally.flac", "Archive/The Quarry Lamps/Lamp Room/02 Gas Test.flac",
                "Archive/The Quarry Lamps/Lamp Room/03 Stomp.flac",
                "Archive/The Quarry Lamps/Lamp Room/Lamp Room, reading.txt", "Pocket player/The Quarry Lamps/Lamp Room/01 Brass Tally.mp3",
                "Pocket player/The Quarry Lamps/Lamp Room/02 Gas Test.mp3", "Pocket player/The Quarry Lamps/Lamp Room/03 Stomp.mp3",
                "Pocket player/The Quarry Lamps/Lamp Room/Lamp Room, reading.txt"],
            app.OutputFiles());
        for (int track = 1; track <= 3; track++)
            Assert.Equal(
                rack.Samples(track),
                LibFlac.Decode(
                    items.Single(item => item.Spec().DiscTrack == track && item.Path().EndsWith(".flac", StringComparison.Ordinal))
                        .Path()).Samples);

        var tracks = app.Get<LibraryQueries>().TracksOfAlbum(Assert.Single(app.Get<LibraryQueries>().Albums()).Id);
        Assert.Equal([("Brass Tally", 2), ("Gas Test", 2), ("Stomp", 2)], tracks.Select(track => (track.Title, track.Copies.Count)));
        Assert.Equal("FLAC", tracks[1].Master.Facts.CodecName);
        var lineage = app.Get<LibraryQueries>().LineageOf(tracks[1].Id);
        Assert.All(lineage, row => Assert.Equal((2, "Lamp Room"), (row.DiscTrack, row.DiscTitle)));
        var tags = app.Get<LibraryQueries>().TagsOf(tracks[1].Master.Id);
        Assert.Equal(("Gas Test", "Wickwire", "The Quarry Lamps", "2", "3", "1", "2022"),
            (tags.First(FieldNames.Title), tags.First(FieldNames.Artist), tags.First(FieldNames.AlbumArtist),
                tags.First(FieldNames.Track), tags.First(FieldNames.TrackTotal), tags.First(FieldNames.Compilation),
                tags.First(FieldNames.Year)));
        var report = File.ReadAllText(Path.Combine(app.Output, "Archive", "The Quarry Lamps", "Lamp Room", "Lamp Room, reading.txt"));
        Assert.Contains(DiscId.Sha1(rack.Contents), report, StringComparison.Ordinal);
        Assert.Contains("3 of 3 tracks proved", report, StringComparison.Ordinal);
        Assert.Empty(Directory.GetDirectories(app.Options.Folders.Spool));
    }

    [Fact]
    public async Task Stopped_killed_and_continued_gives_the_bytes_of_an_undisturbed_run()
    {
        var faults = new[]
        {
            new DiscFault(FaultKind.Settling, 200_000, 500) { Tries = 4 }, new DiscFault(FaultKind.Flaky, 500_000, 300) { Share = 0.3 }
        };
        var sums = new List<List<string>>();
        foreach (bool disturbed in new[] { false, true })
        {
            await using var app = new RunningApp(options => disturbed ? options with { DriveSpeedup = 4 } : options);
            _ = new TestRack(app.Options.RackFolder, true, faults);
            await app.StartAsync();
            await InsertAsync(app);
            var settings = new RipSettings { Targets = ["archive", "pocket-player"], OutputFolder = app.Output };
            if (disturbed)
            {
                long run = Start(app, settings);
                await RunningApp.UntilAsync(() => app.Get<RipStore>().Tracks(run).Any(track => track.IsRead));
                app.Get<RunScheduler>().Stop(run);
                await RunningApp.UntilAsync(() => app.Get<RipProgress>().Of(run) is null);
                Assert.Contains(app.Get<RipStore>().Tracks(run), track => !track.IsRead);
                var read = app.Get<RipStore>().Tracks(run)[0].Item;
                await app.StopAsync();
                await app.StartAsync();
                app.Get<RunScheduler>().Continue(run);
                await app.EndAsync(run);
                // Tracks already read were not read again.
                Assert.Equal(read, app.Get<RipStore>().Tracks(run)[0].Item);
            }
            else
            {
                await RipAsync(app, settings);
            }

            sums.Add(
                [
                    .. app.OutputFiles()
                        .Where(path => !path.EndsWith(".txt", StringComparison.Ordinal))
                        .Select(
                            path => path + " "
                                + System.Convert.ToHexString(SHA256.HashData(File.ReadAllBytes(Path.Combine(app.Output, path)))))
                ]);
        }

        Assert.Equal(6, sums[0].Count);
        Assert.Equal(sums[0], sums[1]);
    }

    [Fact]
    public async Task A_whole_disc_is_one_file_with_a_cue_sheet_that_finds_its_tracks()
    {
        await using var app = new RunningApp();
        var rack = new TestRack(app.Options.RackFolder);
        await app.StartAsync();
        await InsertAsync(app);
        var item = Assert.Single(await RipAsync(app, new RipSettings { Targets = ["whole-disc"], OutputFolder = app.Output }, 2));
        Assert.Equal(rack.Samples(), LibFlac.Decode(item.Path()).Samples);
        var sheet = CueSheetReader.Read(File.ReadAllBytes(Path.ChangeExtension(item.Path(), ".cue")));
        Assert.Empty(sheet.Complaints);
        Assert.Equal(
            rack.Contents.Tracks.Select(track => track.Start), sheet.Sheet.Tracks.Select(track => track.Indexes.Single().Time.Sectors));
        Assert.Equal(("Lamp Room", "Wickwire"), (sheet.Sheet.Title, sheet.Sheet.Tracks[1].Performer));
        Assert.Equal(Path.GetFileName(item.Path()), sheet.Sheet.Files.Single().Name);
    }

    [Fact]
    public async Task Names_corrected_afterwards_reach_the_copies_and_their_files()
    {
        await using var app = new RunningApp();
        var rack = new TestRack(app.Options.RackFolder);
        await app.StartAsync();
        await InsertAsync(app);
        await RipAsync(
            app,
            new RipSettings
            {
                Targets = ["archive", "pocket-player", "dj-stick", "plain", "phone", "small-share"],
                OutputFolder = app.Output
            });
        var desk = app.Get<InsertedDiscs>();
        var album = app.Get<DiscStore>().Get(desk.On(Drive)!.DiscId)!.ReadAlbum();
        desk.Rename(
            Drive,
            album with
            {
                Title = "Lamp Room, Mended",
                Tracks = [.. album.Tracks.Select(track => track with { Title = track.Title + "!" })]
            });
        var cover = System.Convert.FromBase64String(
            "iVBORw0KGgoAAAANSUhEUgAAAAEAAAABCAYAAAAfFcSJAAAADUlEQVR42mNk+M9QDwADhgGAWjR9awAAAABJRU5ErkJggg==");
        Assert.Null(desk.SetPicture(Drive, PictureKind.Front, cover));
        Assert.Null(desk.SetPicture(Drive, PictureKind.Back, cover));
        Assert.NotNull(desk.SetPicture(Drive, PictureKind.Front, "text"u8.ToArray()));
        await RunningApp.UntilAsync(
            () =>
                app.OutputFiles()
                    .Count(path => path.Contains("Mended/", StringComparison.Ordinal) && path.Contains('!', StringComparison.Ordinal)) == 18
            && Directory.GetFiles(app.Output, "*.wav", SearchOption.AllDirectories).All(path => ReadTags(path).Pictures.Count == 2));
        await RunningApp.UntilAsync(() => app.OutputFiles().Count() == 24);
        Assert.All(app.OutputFiles(), path => Assert.Contains("Lamp Room, Mended", path, StringComparison.Ordinal));
        foreach (var path in Directory.GetFiles(app.Output, "02 *", SearchOption.AllDirectories))
        {
            Assert.Equal(
                ("Gas Test!", "Lamp Room, Mended"), (ReadTags(path).First(FieldNames.Title), ReadTags(path).First(FieldNames.Album)));
            Assert.Equal(2, ReadTags(path).Pictures.Count);
            if (Path.GetExtension(path) is ".m4a" or ".opus")
                continue;
            if (path.EndsWith(".flac", StringComparison.Ordinal))
                Assert.Equal(rack.Samples(2), LibFlac.Decode(path).Samples);
            else if (!path.EndsWith(".mp3", StringComparison.Ordinal))
                Assert.Equal(rack.Samples(2), LibSndFile.Decode(path).Samples);
            else
                Assert.Equal(rack.Samples(2).Length / 2, LibMpg123.CountFrames(path));
        }

        var tracks = app.Get<LibraryQueries>().TracksOfAlbum(Assert.Single(app.Get<LibraryQueries>().Albums()).Id);
        Assert.Equal([("Brass Tally!", 6), ("Gas Test!", 6), ("Stomp!", 6)], tracks.Select(track => (track.Title, track.Copies.Count)));
        Assert.All(tracks.SelectMany(track => track.Copies), copy => Assert.True(File.Exists(copy.Path)));
    }

    [Fact]
    public async Task A_scratch_that_never_reads_is_marked_in_the_report_and_the_copies_are_made()
    {
        await using var app = new RunningApp();
        var rack = new TestRack(app.Options.RackFolder, true, new DiscFault(FaultKind.Never, 330 * 588 + 44_100, 100));
        await app.StartAsync();
        await InsertAsync(app);
        long run = Start(app, new RipSettings { OutputFolder = app.Output });
        var items = await app.EndAsync(run);
        var readings = app.Get<RipStore>().Tracks(run).Select(track => track.Reading!).ToList();
        Assert.Equal([Verdict.AgreedAtOnce, Verdict.Doubtful, Verdict.AgreedAtOnce], readings.Select(reading => reading.Verdict));
        Assert.Equal(new FrameStretch(44_100, 100), Assert.Single(readings[1].Doubtful));
        Assert.Contains(
            "no two readings agree from 0:01.00", File.ReadAllText(app.Output + "/The Quarry Lamps/Lamp Room/Lamp Room, reading.txt"),
            StringComparison.Ordinal);
        var (expected, got) = (rack.Samples(2), LibFlac.Decode(items[1].Path()).Samples);
        Assert.Equal(expected[..88_200], got[..88_200]);
        Assert.Equal(expected[88_400..], got[88_400..]);
    }

    [Theory]
    [InlineData(CatalogueMood.Down, LookUpState.Failed)]
    [InlineData(CatalogueMood.Wrong, LookUpState.Failed)]
    [InlineData(CatalogueMood.Quick, LookUpState.Unknown)]
    public async Task Without_the_catalogue_a_disc_can_be_named_by_hand_and_ripped(CatalogueMood mood, LookUpState expected)
    {
        await using var app = new RunningApp();
        _ = new TestRack(app.Options.RackFolder, isInCatalogue: mood != CatalogueMood.Quick);
        await app.StartAsync();
        app.Get<FolderCatalogue>().Mood = mood;
        await InsertAsync(app);
        var desk = app.Get<InsertedDiscs>();
        Assert.Equal(expected, desk.On(Drive)!.State);
        Assert.Equal(mood != CatalogueMood.Quick, desk.On(Drive)!.Failure is { Length: > 0 });
        desk.Rename(
            Drive,
            new DiscAlbum
            {
                Artist = "Tin Orchard",
                Title = "White Disc",
                Tracks = [.. TitleList.Read("1. One (3:12)\n2) Two 4:00\n\n03 - Three")]
            });
        await RipAsync(app, new RipSettings { OutputFolder = app.Output }, 1, 3);
        Assert.Equal(
            [
                "Tin Orchard/White Disc/01 One.flac", "Tin Orchard/White Disc/03 Three.flac",
                "Tin Orchard/White Disc/White Disc, reading.txt"
            ],
            app.OutputFiles());
    }

    /// <summary>Names by a pattern, with several targets in one folder, and new names afterwards.</summary>
    [Fact]
    public async Task Copies_of_a_disc_are_named_by_a_pattern()
    {
        await using var app = new RunningApp();
        _ = new TestRack(app.Options.RackFolder);
        await app.StartAsync();
        await InsertAsync(app);
        var rips = app.Get<DiscRips>();
        Assert.Equal(
            "There is no field \"titel\". Is it {title}?", rips.Choose(new DiscChoice(false, new RipSettings()), app.Output, "{titel}"));
        Assert.Null(rips.Choice.Settings.Names);
        var desk = app.Get<InsertedDiscs>();
        desk.Rename(
            Drive,
            new DiscAlbum
            {
                Artist = "Tin Orchard",
                Title = "White Disc",
                Tracks = [.. TitleList.Read("1. One (3:12)\n2) Two 4:00\n\n03 - Three")]
            });
        await RipAsync(
            app,
            new RipSettings
            {
                OutputFolder = app.Output,
                Targets = ["archive", "pocket-player"],
                Names = "{album}/{track:000} {title} ({artist})"
            },
            1);
        Assert.Equal(
            [
                "Archive/White Disc/001 One (Tin Orchard).flac", "Archive/White Disc/White Disc, reading.txt",
                "Pocket player/White Disc/001 One (Tin Orchard).mp3", "Pocket player/White Disc/White Disc, reading.txt"
            ],
            app.OutputFiles());
        desk.Rename(Drive, new DiscAlbum { Artist = "Tin Orchard", Title = "Chalk Disc", Tracks = [.. TitleList.Read("1. One Lamp")] });
        await RunningApp.UntilAsync(
            () => app.OutputFiles().Contains("Pocket player/Chalk Disc/001 One Lamp (Tin Orchard).mp3")
                && app.OutputFiles().Contains("Archive/Chalk Disc/001 One Lamp (Tin Orchard).flac"));
    }

    [Fact]
    public async Task Inserted_disc_is_ripped_automatically_when_enabled()
    {
        await using var app = new RunningApp();
        _ = new TestRack(app.Options.RackFolder);
        await app.StartAsync();
        Assert.Null(app.Get<DiscRips>().Choose(new DiscChoice(true, new RipSettings { EjectWhenDone = true }), app.Output, null));
        Assert.Null(app.Get<DriveBay>().Insert(Drive, TestRack.Key));
        await RunningApp.UntilAsync(() => app.Get<RunStore>().List(5) is [{ State: RunState.Done }]);
        await RunningApp.UntilAsync(() => app.Get<DriveBay>().Tray(Drive)!.Disc is null);
        // The report is written when the copies are there.
        await RunningApp.UntilAsync(() => app.OutputFiles().Count(path => !Path.GetFileName(path).StartsWith('.')) == 4);
    }

    [Fact]
    public async Task An_image_in_a_music_folder_is_read_as_a_disc()
    {
        await using var app = new RunningApp();
        var folder = Path.Combine(app.Music, "images");
        var image = new TestRack(folder, isInCatalogue: false);
        await app.StartAsync();
        await app.ScanAsync();
        var bay = app.Get<DriveBay>();
        Assert.NotNull(bay.Insert(DriveBay.ImageLetter, "image:1:../../../etc/passwd"));
        Assert.Null(bay.Insert(DriveBay.ImageLetter, Assert.Single(bay.Images()).Key));
        await RunningApp.UntilAsync(() => app.Get<InsertedDiscs>().On(DriveBay.ImageLetter) is { State: not LookUpState.Asking });
        var rips = app.Get<DiscRips>();
        Assert.Null(rips.Choose(new DiscChoice(false, new RipSettings()), app.Output, null));
        Assert.Null(rips.Start(DriveBay.ImageLetter, [3]));
        var item = Assert.Single(await app.EndAsync(rips.RunOf(app.Get<InsertedDiscs>().On(DriveBay.ImageLetter)!)!.Id));
        Assert.Equal(image.Samples(3), LibFlac.Decode(item.Path()).Samples);
    }

    [Fact]
    public async Task Names_corrected_during_a_rip_reach_every_copy()
    {
        await using var app = new RunningApp(options => options with { DriveSpeedup = 0.3 });
        _ = new TestRack(app.Options.RackFolder);
        await app.StartAsync();
        await InsertAsync(app);
        long run = Start(app, new RipSettings { OutputFolder = app.Output });
        await RunningApp.UntilAsync(() => app.Get<RunStore>().Items(run)[0].State == ItemState.Done);
        var desk = app.Get<InsertedDiscs>();
        var album = app.Get<DiscStore>().Get(desk.On(Drive)!.DiscId)!.ReadAlbum();
        Assert.Contains(app.Get<RipStore>().Tracks(run), track => !track.IsRead);
        desk.Rename(Drive, album with { Title = "Mended" });
        await app.EndAsync(run);
        await RunningApp.UntilAsync(
            () => app.OutputFiles().Count(path => path.StartsWith("The Quarry Lamps/Mended/", StringComparison.Ordinal)) == 4
                && app.OutputFiles().Count() == 4);
        Assert.All(
            Directory.GetFiles(app.Output, "*.flac", SearchOption.AllDirectories),
            path => Assert.Equal("Mended", ReadTags(path).First(FieldNames.Album)));
    }

    [Fact]
    public async Task Lost_spooled_audio_is_read_again_at_the_next_start()
    {
        await using var app = new RunningApp(options => options with { DriveSpeedup = 4 });
        var rack = new TestRack(app.Options.RackFolder);
        await app.StartAsync();
        await InsertAsync(app);
        // The whole disc keeps all tracks in the spool until the last is read.
        long run = Start(app, new RipSettings { Targets = ["whole-disc"], OutputFolder = app.Output });
        await RunningApp.UntilAsync(() => app.Get<RipStore>().Tracks(run).Count(track => track.IsRead) == 2);
        app.Get<RunScheduler>().Stop(run);
        await RunningApp.UntilAsync(() => app.Get<RipProgress>().Of(run) is null);
        Assert.Contains(app.Get<RipStore>().Tracks(run), track => !track.IsRead);
        var lost = app.Get<Spool>().PathOf(run, 2);
        // A copy was in progress on a drive that is no longer connected.
        app.Get<Database>().Change(connection =>
        {
            connection.Execute("UPDATE run_item SET state = 'working' WHERE kind = 'rip-copy'");
            connection.Execute(
                "INSERT INTO file_change (kind, temporary_path, item_id) SELECT 'new', '/not/connected/.wergamon-1.part', id "
                    + "FROM run_item WHERE kind = 'rip-copy'");
        });
        await app.StopAsync();
        // After a power cut: a file of the right length whose end was never written.
        using (var file = File.OpenWrite(lost))
        {
            file.Position = file.Length - 20_000;
            file.Write(new byte[10_000]);
        }

        await app.StartAsync();
        Assert.Equal([true, false, false], app.Get<RipStore>().Tracks(run).Select(track => track.IsRead));
        app.Get<RunScheduler>().Continue(run);
        Assert.Equal(rack.Samples(), LibFlac.Decode(Assert.Single(await app.EndAsync(run)).Path()).Samples);
    }

    [Fact]
    public async Task Spooled_audio_of_failed_copies_can_get_lost_too()
    {
        await using var app = new RunningApp();
        var rack = new TestRack(app.Options.RackFolder);
        await app.StartAsync();
        await InsertAsync(app);
        // A file has the name of the artist's folder.
        Directory.CreateDirectory(app.Output);
        var inTheWay = Path.Combine(app.Output, "The Quarry Lamps");
        File.WriteAllText(inTheWay, "");
        long run = Start(app, new RipSettings { OutputFolder = app.Output });
        Assert.All(await app.EndAsync(run), item => Assert.Equal(ItemState.Failed, item.State));
        var lost = app.Get<Spool>().PathOf(run, 2);
        Assert.True(File.Exists(lost));
        await app.StopAsync();
        File.Delete(lost);
        File.Delete(inTheWay);
        await app.StartAsync();
        var stopped = app.Get<RunStore>().Get(run)!;
        Assert.Equal((RunState.Stopped, true), (stopped.State, stopped.StopReason!.Contains("read it again", StringComparison.Ordinal)));
        app.Get<RunScheduler>().Retry(run);
        var items = await app.EndAsync(run);
        Assert.All(items, item => Assert.Equal(ItemState.Done, item.State));
        Assert.Equal(rack.Samples(2), LibFlac.Decode(items[1].Path()).Samples);
    }

    [Fact]
    public async Task Removed_disc_stops_the_rip_until_it_is_back()
    {
        await using var app = new RunningApp(options => options with { DriveSpeedup = 3 });
        _ = new TestRack(app.Options.RackFolder);
        await app.StartAsync();
        await InsertAsync(app);
        long run = Start(app, new RipSettings { OutputFolder = app.Output });
        await RunningApp.UntilAsync(() => app.Get<RipProgress>().Of(run) is not null);
        app.Get<DriveBay>().Eject(Drive);
        await RunningApp.UntilAsync(() => app.Get<RunStore>().Get(run)!.State == RunState.Stopped);
        // Within a track or between two.
        Assert.Matches("taken out|not in", app.Get<RunStore>().Get(run)!.StopReason);
        app.Get<RunScheduler>().Continue(run);
        await RunningApp.UntilAsync(
            () => app.Get<RunStore>().Get(run)!.StopReason is { } reason && reason.Contains("Insert it", StringComparison.Ordinal));
        await InsertAsync(app);
        app.Get<RunScheduler>().Continue(run);
        Assert.All(await app.EndAsync(run), item => Assert.Equal(ItemState.Done, item.State));
    }

    private static async Task InsertAsync(RunningApp app)
    {
        Assert.Null(app.Get<DriveBay>().Insert(Drive, TestRack.Key));
        await RunningApp.UntilAsync(() => app.Get<InsertedDiscs>().On(Drive) is { State: not LookUpState.Asking });
    }

    private static long Start(RunningApp app, RipSettings settings, params int[] tracks)
    {
        var rips = app.Get<DiscRips>();
        Assert.Null(rips.Choose(new DiscChoice(false, settings), settings.OutputFolder, settings.Names));
        Assert.Null(rips.Start(Drive, tracks.Length > 0 ? tracks : [1, 2, 3]));
        return rips.RunOf(app.Get<InsertedDiscs>().On(Drive)!)!.Id;
    }

    private static async Task<IReadOnlyList<RunItemRow>> RipAsync(RunningApp app, RipSettings settings, params int[] tracks)
    {
        var items = await app.EndAsync(Start(app, settings, tracks));
        await RunningApp.UntilAsync(
            () => !Directory.Exists(app.Options.Folders.Spool) || Directory.GetDirectories(app.Options.Folders.Spool).Length == 0);
        return items;
    }

    private static TagSet ReadTags(string path)
    {
        using var stream = File.OpenRead(path);
        return FileReading.ReadTags(stream).Tags;
    }
}
