using Dapper;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.App.Deliver.Files;
using Wergamon.App.Intake;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Formats.Wav;
using Wergamon.Devices.Drives;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.App.Tests.Deliver;

/// <summary>From tracks of the library to a burned disc, and back by ripping it.</summary>
public sealed class BurnTests
{
    /// <summary>
    /// A live album of odd lengths, without pauses: what is ripped from the disc, one track after the other, is what was sent, and nothing
    /// else.
    /// </summary>
    [Fact]
    public async Task A_gapless_album_is_burned_and_ripped_again_sample_by_sample()
    {
        await using var app = new RunningApp();
        var paths = new[] { 6.003, 5.117, 7.7771 }.Select((seconds, i) => app.AddTrack(i + 1, seconds)).ToList();
        long disc = await PlanAsync(app);
        Assert.Equal(["", "", ""], app.Get<AudioDiscs>().View(disc)!.Lines.Select(line => line.Steps));
        Assert.Equal("Put a blank disc into Burner C first.", app.Get<AudioDiscs>().Burn(disc).Problem);
        Assert.All(await BurnAsync(app, disc, "blank-80"), item => Assert.Equal(ItemState.Done, item.State));
        await RunningApp.UntilAsync(
            () => !Directory.Exists(app.Options.Folders.DeliverySpool)
                || Directory.GetDirectories(app.Options.Folders.DeliverySpool).Length == 0);
        // It came out of the burner and lies on the rack.
        Assert.Null(app.Get<BurnerBay>().Burner("C")!.Disc);
        var burned = Assert.Single(app.Get<DriveBay>().Rack());
        Assert.Equal(("Night Shift", "Burned here"), (burned.Label, burned.Note));

        Assert.Null(app.Get<DriveBay>().Insert("B", burned.Key));
        await RunningApp.UntilAsync(() => app.Get<InsertedDiscs>().On("B") is { State: not LookUpState.Asking });
        Assert.Equal("Night Shift", app.Get<DriveBay>().Tray("B")!.Disc!.Text.Album.Title);
        Assert.Null(app.Get<DiscRips>().Choose(new DiscChoice(false, new RipSettings { Targets = ["plain"] }), app.Output, null));
        Assert.Null(app.Get<DiscRips>().Start("B", [1, 2, 3]));
        var ripped = await app.EndAsync(app.Get<DiscRips>().RunOf(app.Get<InsertedDiscs>().On("B")!)!.Id);
        var (sent, got) = (paths.SelectMany(WavSamples.Of).ToList(), ripped.SelectMany(item => WavSamples.Of(item.Path())).ToList());
        Assert.Equal(sent, got.Take(sent.Count));
        // The last sector is filled up, and nothing more.
        Assert.InRange(got.Count - sent.Count, 0, 2 * AudioDisc.FramesPerSector - 1);
        Assert.DoesNotContain(got.Skip(sent.Count), sample => sample != 0);
    }

    /// <summary>Pauses, a hidden track, indexes and codes, and sound that a disc does not take as it is.</summary>
    [Fact]
    public async Task Any_sound_becomes_a_disc_with_pauses_and_a_hidden_track()
    {
        await using var app = new RunningApp();
        app.AddTrack(1, 5);
        AddFile(app, "02 Studio", new PcmFormat(new SampleRate(48_000), 2, 24), 5);
        AddFile(app, "03 Memo", new PcmFormat(SampleRate.AudioDisc, 1, 16), 2);
        long disc = await PlanAsync(app);
        var store = app.Get<DeliveryStore>();
        app.Get<AudioDiscs>()
            .SetSettings(
                disc,
                AudioDiscSettings.Of(store.Get(disc)!) with { PauseSeconds = 2, IsFirstHidden = true, CatalogueNumber = "4006381333931" });
        var memo = store.Items(disc)[2];
        store.SetItemSettings(
            memo.Id,
            new AudioTrackSettings { Title = "Memo, Молот", Isrc = "ZZLQ12100003", PauseSeconds = 1, Indexes = [1.5, 0.5, 99] }.ToJson());
        var view = app.Get<AudioDiscs>().View(disc)!;
        Assert.Equal(["", "48 to 44.1 kHz, to 16-bit", "mono to both sides"], view.Lines.Select(line => line.Steps));
        Assert.Equal("Memo, ?????", view.Lines[2].Text!.Title);
        Assert.Contains("“Memo, Молот” is 2.0 s long", Assert.Single(view.Layout.Notes), StringComparison.Ordinal);
        Assert.All(await BurnAsync(app, disc, "blank-74"), item => Assert.Equal(ItemState.Done, item.State));
        using var burned = new DiscRack(app.Options.Folders.Burned).Take(app.Get<BurnerBay>().Written()[0].Key)!;
        var contents = burned.Image.Contents;
        Assert.Equal(("4006381333931", 375 + 150), (contents.CatalogueNumber, contents.HiddenSectors));
        Assert.Equal(
            [(525, null, ""), (525 + 375 + 75, "ZZLQ12100003", "1012 1087")],
            contents.Tracks.Select(track => (track.Start, track.Isrc, string.Join(' ', track.MoreIndexes))));
        // The mono file is on both sides.
        var sector = new byte[AudioDisc.BytesPerSector];
        burned.Image.Read(contents.Tracks[1].Start + 20, sector);
        Assert.All(
            Enumerable.Range(0, AudioDisc.FramesPerSector),
            i => Assert.Equal(BitConverter.ToInt16(sector, 4 * i), BitConverter.ToInt16(sector, 4 * i + 2)));
    }

    [Fact]
    public async Task Run_continues_after_a_spoiled_disc_is_replaced()
    {
        await using var app = new RunningApp(options => options with { DriveSpeedup = 100_000 });
        app.AddTrack(1, 70);
        long disc = await PlanAsync(app);
        var (bay, runs) = (app.Get<BurnerBay>(), app.Get<RunStore>());
        bay.Insert("C", "bent-80");
        // From several windows at once it is started once.
        var started = await Task.WhenAll(Enumerable.Range(0, 4).Select(_ => Task.Run(() => app.Get<AudioDiscs>().Burn(disc))));
        long run = Assert.Single(started, each => each.RunId is not null).RunId!.Value;
        Assert.All(started.Where(each => each.RunId is null), each => Assert.Equal("It is being written already.", each.Problem));
        await RunningApp.UntilAsync(() => runs.Get(run)!.State == RunState.Stopped);
        Assert.Contains(
            "could not follow the groove of the disc at 1:00. The disc is spoiled: put another one in, then continue.",
            runs.Get(run)!.StopReason, StringComparison.Ordinal);
        app.Get<RunScheduler>().Continue(run);
        await RunningApp.UntilAsync(
            () => runs.Get(run)!.StopReason is { } reason
                && reason.Contains("The disc is spoiled in Burner C. Put a blank one in", StringComparison.Ordinal));
        bay.Insert("C", "blank-80");
        app.Get<RunScheduler>().Continue(run);
        Assert.All(await app.EndAsync(run), item => Assert.Equal(ItemState.Done, item.State));
        Assert.Single(bay.Written());
    }

    [Fact]
    public async Task A_disc_with_bad_places_is_not_called_good()
    {
        await using var app = new RunningApp();
        app.AddTrack(1, 6);
        app.AddTrack(2, 6);
        long disc = await PlanAsync(app);
        var items = await BurnAsync(app, disc, "worn-80");
        Assert.Equal([ItemState.Done, ItemState.Failed], items.Select(item => item.State));
        Assert.Contains("The disc reads back differently: track 1 at 0:02. Burn another disc.", items[1].Failure, StringComparison.Ordinal);
    }

    /// <summary>A second copy is burned whatever became of the first, once another disc is in.</summary>
    [Fact]
    public async Task Copies_do_not_depend_on_each_other()
    {
        await using var app = new RunningApp();
        app.AddTrack(1, 6);
        long disc = await PlanAsync(app);
        app.Get<AudioDiscs>().SetSettings(disc, AudioDiscSettings.Of(app.Get<DeliveryStore>().Get(disc)!) with { Copies = 2 });
        app.Get<BurnerBay>().Insert("C", "worn-80");
        long run = app.Get<AudioDiscs>().Burn(disc).RunId!.Value;
        await RunningApp.UntilAsync(() => app.Get<RunStore>().Get(run) is { State: RunState.Stopped });
        Assert.Contains(
            "is written already in Burner C. Put a blank one in", app.Get<RunStore>().Get(run)!.StopReason, StringComparison.Ordinal);
        app.Get<BurnerBay>().Insert("C", "blank-80");
        app.Get<RunScheduler>().Continue(run);
        Assert.Equal(
            [ItemState.Done, ItemState.Failed, ItemState.Done, ItemState.Done], (await app.EndAsync(run)).Select(item => item.State));
    }

    [Fact]
    public async Task A_run_that_waits_is_given_up_and_another_one_begins()
    {
        await using var app = new RunningApp(options => options with { DriveSpeedup = 100_000 });
        app.AddTrack(1, 70);
        long disc = await PlanAsync(app);
        var (discs, starts, runs) = (app.Get<AudioDiscs>(), app.Get<DeliveryRuns>(), app.Get<RunStore>());
        app.Get<BurnerBay>().Insert("C", "bent-80");
        long run = discs.Burn(disc).RunId!.Value;
        await RunningApp.UntilAsync(
            () => runs.Get(run)!.State == RunState.Stopped && runs.Items(run).All(item => item.State != ItemState.Working));
        app.Get<BurnerBay>().Insert("C", "blank-80");
        const string Waits = "An earlier run of it is stopped: continue it, or give it up.";
        Assert.Equal((Waits, Waits), (discs.Burn(disc).Problem, starts.Remove(disc)));
        starts.GiveUp(disc);
        Assert.Equal(RunState.Done, runs.Get(run)!.State);
        Assert.Empty(Directory.GetDirectories(app.Options.Folders.DeliverySpool));
        Assert.All(await app.EndAsync(discs.Burn(disc).RunId!.Value), item => Assert.Equal(ItemState.Done, item.State));
        Assert.Null(starts.Remove(disc));
        Assert.Empty(app.Get<DeliveryStore>().List());
    }

    /// <param name="isNoted">Whether the server had noted that the disc in the burner is finished.</param>
    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public async Task Disc_that_was_finished_when_the_server_ended_is_only_read_back(bool isNoted)
    {
        await using var app = new RunningApp();
        app.AddTrack(1, 5);
        long disc = await PlanAsync(app);
        var burn = (await BurnAsync(app, disc, "blank-80")).Single(BurnDiscHandler.ItemKind.Is);
        var key = Assert.Single(app.Get<BurnerBay>().Written()).Key;

        // As it was at the moment after the disc had its lead-out.
        app.Get<Settings>().Write(
            "burner C", new TrayContents("blank-80", key) { IsBeingWritten = !isNoted }, DiscRunsJson.Default.TrayContents);
        app.Get<Database>().Change(connection =>
        {
            connection.Execute("UPDATE run SET state = 'running', ended_at = NULL WHERE id = @RunId", new { burn.RunId });
            connection.Execute(
                "UPDATE run_item SET state = 'working', checkpoint = result, result = NULL WHERE id = @Id", new { burn.Id });
            connection.Execute(
                "UPDATE run_item SET state = 'waiting', result = NULL WHERE run_id = @RunId AND kind = @Name",
                new { burn.RunId, BurnCheckHandler.ItemKind.Name });
        });
        await app.StopAsync();
        await app.StartAsync();
        Assert.All(await app.EndAsync(burn.RunId), item => Assert.Equal((ItemState.Done, null), (item.State, item.Failure)));
        Assert.Equal(key, Assert.Single(app.Get<BurnerBay>().Written()).Key);
        Assert.Null(app.Get<BurnerBay>().Burner("C")!.Disc);
    }

    [Fact]
    public async Task Server_killed_while_burning_continues_with_another_disc()
    {
        await using var app = new RunningApp(options => options with { DriveSpeedup = 1 });
        app.AddTrack(1, 60);
        long disc = await PlanAsync(app);
        app.Get<BurnerBay>().Insert("C", "blank-80");
        long run = app.Get<AudioDiscs>().Burn(disc).RunId!.Value;
        await RunningApp.UntilAsync(
            () => Directory.Exists(app.Options.Folders.Burned) && Directory.GetFiles(app.Options.Folders.Burned).Length > 0);
        await app.StopAsync();
        await app.StartAsync();
        var runs = app.Get<RunStore>();
        await RunningApp.UntilAsync(() => runs.Get(run)!.State == RunState.Stopped);
        Assert.Contains("There is no disc in Burner C", runs.Get(run)!.StopReason, StringComparison.Ordinal);
        Assert.Empty(app.Get<DriveBay>().Rack());
        app.Get<BurnerBay>().Insert("C", "blank-80");
        app.Get<RunScheduler>().Continue(run);
        Assert.All(await app.EndAsync(run), item => Assert.Equal(ItemState.Done, item.State));
    }

    [Fact]
    public async Task An_image_holds_the_disc_with_all_titles()
    {
        await using var app = new RunningApp();
        var paths = new[] { app.AddTrack(1, 5.01), app.AddTrack(2, 5) };
        long disc = await PlanAsync(app);
        app.Get<AudioDiscs>()
            .SetSettings(disc, AudioDiscSettings.Of(app.Get<DeliveryStore>().Get(disc)!) with { ImageFolder = app.Output });
        var (run, problem) = app.Get<AudioDiscs>().WriteImage(disc);
        Assert.Null(problem);
        Assert.All(await app.EndAsync(run!.Value), item => Assert.Equal(ItemState.Done, item.State));
        Assert.Equal(["Night Shift.bin", "Night Shift.cue"], app.OutputFiles());
        using var outside = new LibCdio(Path.Combine(app.Output, "Night Shift.cue"));
        Assert.Equal(["Track 1", "Track 2"], outside.Tracks.Select(track => track.Title));
        var image = File.ReadAllBytes(Path.Combine(app.Output, "Night Shift.bin"));
        Assert.Equal(
            paths.SelectMany(WavSamples.Of),
            Enumerable.Range(0, image.Length / 2)
                .Select(i => (int)BitConverter.ToInt16(image, 2 * i))
                .Take(paths.Sum(path => WavSamples.Of(path).Count)));
    }

    /// <summary>
    /// A server that ends just after an image, or a joined file, got its name finishes it: no second one appears, whether its sheet was
    /// written or not.
    /// </summary>
    [Theory]
    [InlineData("burn-image", true)]
    [InlineData("burn-image", false)]
    [InlineData("join-file", true)]
    [InlineData("join-file", false)]
    [InlineData("data-disc", true)]
    public async Task Published_file_is_finished_after_a_crash(string kind, bool hasSheet)
    {
        await using var app = new RunningApp();
        app.AddTrack(1, 5);
        app.AddTrack(2, 5.5);
        var tracks = await PlannedAsync(app);
        var (run, problem) = Begin(app, kind, tracks);
        Assert.Null(problem);
        await app.EndAsync(run!.Value);
        var made = app.OutputFiles().ToDictionary(name => name, name => File.ReadAllBytes(Path.Combine(app.Output, name)));
        var item = app.Get<RunStore>().Items(run.Value).Single(each => each.Kind == kind);

        // As it was at the moment after the name appeared: under way, in the journal, the end not recorded.
        app.Get<Database>().Change(connection =>
        {
            connection.Execute("UPDATE run SET state = 'running', ended_at = NULL WHERE id = @run", new { run });
            connection.Execute(
                "UPDATE run_item SET state = 'working', result = NULL, checkpoint = CASE WHEN kind = 'join-file' THEN "
                    + "json_object('version', 1, 'proof', json_extract(result, '$.proof')) END WHERE id = @Id",
                new { item.Id });
            connection.Execute(
                "INSERT INTO file_change (kind, temporary_path, final_path, item_id) VALUES ('new', @temporary, @final, @Id)",
                new
                {
                    item.Id,
                    temporary = Path.Combine(app.Output, ".wergamon-gone.part"),
                    final = Path.Combine(app.Output, made.Keys.Single(name => !name.EndsWith(".cue", StringComparison.Ordinal)))
                });
        });
        await app.StopAsync();
        if (!hasSheet)
            File.Delete(Path.Combine(app.Output, made.Keys.Single(name => name.EndsWith(".cue", StringComparison.Ordinal))));
        await app.StartAsync();
        Assert.All(await app.EndAsync(run.Value), each => Assert.Equal((ItemState.Done, null), (each.State, each.Failure)));
        Assert.Equal(made.Keys, app.OutputFiles());
        Assert.All(made, file => Assert.Equal(file.Value, File.ReadAllBytes(Path.Combine(app.Output, file.Key))));
        using var connection = app.Get<Database>().Open();
        Assert.Equal(0, connection.ExecuteScalar<int>("SELECT COUNT(*) FROM file_change"));
    }

    /// <summary>
    /// Starting another run of a delivery removes the prepared tracks of the earlier one; retrying that one prepares them again.
    /// </summary>
    [Theory]
    [InlineData("burn-image")]
    [InlineData("join-file")]
    [InlineData("data-disc")]
    public async Task A_failed_run_can_be_retried_when_its_prepared_tracks_are_gone(string kind)
    {
        await using var app = new RunningApp();
        app.AddTrack(1, 5);
        app.AddTrack(2, 5.5);
        var tracks = await PlannedAsync(app);
        long run = Begin(app, kind, tracks).Run!.Value;
        await app.EndAsync(run);
        var made = app.OutputFiles().ToList();
        app.Get<Database>()
            .Change(
                connection =>
                    connection.Execute(
                        "UPDATE run_item SET state = 'failed', result = NULL, failure = 'no room' WHERE kind = @kind", new { kind }));
        Assert.False(Directory.Exists(app.Get<DeliverySpool>().FolderOf(run)));
        app.Get<RunScheduler>().Retry(run);
        Assert.All(await app.EndAsync(run), item => Assert.Equal((ItemState.Done, null), (item.State, item.Failure)));
        Assert.Equal(2 * made.Count, app.OutputFiles().Count());
        await RunningApp.UntilAsync(() => !Directory.Exists(app.Get<DeliverySpool>().FolderOf(run)));
    }

    private static (long? Run, string? Problem) Begin(RunningApp app, string kind, IReadOnlyList<long> tracks)
    {
        switch (kind)
        {
            case "burn-image":
                long disc = app.Get<AudioDiscs>().Create(null, tracks);
                app.Get<AudioDiscs>()
                    .SetSettings(disc, AudioDiscSettings.Of(app.Get<DeliveryStore>().Get(disc)!) with { ImageFolder = app.Output });
                return app.Get<AudioDiscs>().WriteImage(disc);
            case "join-file":
                long file = app.Get<JoinedFiles>().Create(null, tracks);
                app.Get<JoinedFiles>().SetSettings(file, new JoinedSettings { TargetKey = "archive", Folder = app.Output });
                return app.Get<JoinedFiles>().Start(file);
            default:
                long data = app.Get<DataDiscs>().Create(null, tracks);
                app.Get<DataDiscs>()
                    .SetSettings(data, DataDiscSettings.Of(app.Get<DeliveryStore>().Get(data)!) with { ImageFolder = app.Output });
                return app.Get<DataDiscs>().WriteImage(data);
        }
    }

    [Fact]
    public async Task Too_long_discs_are_split_between_albums_or_shortened()
    {
        await using var app = new RunningApp();
        app.AddTrack(1, 4);
        long first = (await PlannedAsync(app))[0];
        var (discs, store) = (app.Get<AudioDiscs>(), app.Get<DeliveryStore>());
        long disc = discs.Create("Too much", [.. Enumerable.Repeat(first, 120)]);
        Assert.StartsWith("A disc has at most 99 tracks; these are 120.", discs.View(disc)!.Problem, StringComparison.Ordinal);
        Assert.NotNull(discs.Burn(disc).Problem);
        var parts = discs.Split(disc);
        Assert.Equal(
            [("Too much, disc 1 of 2", 99), ("Too much, disc 2 of 2", 21)],
            parts.Select(part => (store.Get(part)!.Title, store.Get(part)!.Tracks)));
        Assert.All(parts, part => Assert.Null(discs.View(part)!.Problem));
        long other = discs.Create(null, [.. Enumerable.Repeat(first, 101)]);
        discs.LeaveOut(other);
        Assert.Equal((99, "Night Shift"), (store.Get(other)!.Tracks, store.Get(other)!.Title));
        // A track that leaves the library leaves its place behind.
        File.Delete(app.Get<LibraryQueries>().TracksById([first])[0].Master.Path);
        await app.ScanAsync();
        Assert.Contains("The file of “Track 1” is missing", discs.View(other)!.Problem, StringComparison.Ordinal);
    }

    private static async Task<long> PlanAsync(RunningApp app) =>
        (app, await PlannedAsync(app)) is var (started, tracks) ? started.Get<AudioDiscs>().Create(null, tracks) : 0;

    private static async Task<IReadOnlyList<long>> PlannedAsync(RunningApp app)
    {
        await app.StartAsync();
        await app.ScanAsync();
        return [.. app.Get<LibraryQueries>().TracksOfAlbum(Assert.Single(app.Get<LibraryQueries>().Albums()).Id).Select(track => track.Id)];
    }

    private static async Task<IReadOnlyList<RunItemRow>> BurnAsync(RunningApp app, long disc, string blank)
    {
        Assert.Null(app.Get<BurnerBay>().Insert("C", blank));
        var (run, problem) = app.Get<AudioDiscs>().Burn(disc);
        Assert.Null(problem);
        return await app.EndAsync(run!.Value);
    }

    private static void AddFile(RunningApp app, string name, PcmFormat format, double seconds)
    {
        var path = Path.Combine(app.Music, "The Quarry Lamps - Night Shift", name + ".wav");
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        using var writer = new WavWriter(File.Create(path), format);
        TestSound.Music(format, (long)(seconds * format.Rate.Hertz)).CopyTo(writer);
    }
}
