using System.Diagnostics;
using CsCheck;
using Dapper;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Files;
using Wergamon.App.Library.Listening;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Sets;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Sticks;
using Wergamon.Core.Sync;
using Wergamon.Core.Tags;
using Wergamon.Devices.Decks;

namespace Wergamon.App.Tests.Deliver;

/// <summary>Sticks with real files: what is written, in which order, what stays, and what came back.</summary>
public sealed class StickTests
{
    /// <summary>A track whose file is missing in the library stays as it is on the stick, also where the person deletes it there.</summary>
    [Fact]
    public async Task Tracks_without_their_file_stay_and_files_that_nobody_wants_any_more_are_forgotten()
    {
        await using var app = new RunningApp();
        var (stick, set, tracks) = await StickOfSetAsync(app, "car-radio", 3);
        await UpdateAsync(app, stick);
        const string Kept = "Night/002 The Quarry Lamps - Track 2.mp3";
        File.Delete(app.Get<LibraryQueries>().TracksById([tracks[1]])[0].Master.Path);
        await app.ScanAsync();
        Assert.Equal([SyncState.UpToDate, SyncState.SourceMissing, SyncState.UpToDate], States(app, stick));
        app.Get<ITrackLists>().SetTracks(set, [tracks[2], tracks[0], tracks[1]], "turned");
        await UpdateAsync(app, stick);
        Assert.Equal(
            ["Night/001 The Quarry Lamps - Track 3.mp3", "Night/002 The Quarry Lamps - Track 1.mp3", Kept], FilesOf(app));

        File.Delete(Path.Combine(Stick(app), Kept));
        Assert.Equal([SyncState.UpToDate, SyncState.UpToDate, SyncState.SourceMissing], States(app, stick));
        app.Get<TrackNotes>().SetRating(tracks[0], 4);
        await UpdateAsync(app, stick);
        Assert.Equal(3, app.Get<StickStore>().CountFiles()[stick]);
        app.Get<ITrackLists>().SetTracks(set, [tracks[0]], "one left");
        await UpdateAsync(app, stick);
        Assert.Equal((1, 1), (app.Get<StickStore>().CountFiles()[stick], FilesOf(app).Count()));
    }

    /// <summary>
    /// A set becomes a folder in play order; after a change of order only names change, after one of tags only tags are written.
    /// </summary>
    [Fact]
    public async Task A_set_is_brought_in_step_and_only_what_is_needed_is_written()
    {
        await using var app = new RunningApp();
        var (stick, set, tracks) = await StickOfSetAsync(app, "car-radio", 3);
        Assert.Equal([SyncState.New, SyncState.New, SyncState.New], States(app, stick));
        await UpdateAsync(app, stick);
        Assert.Equal(
            [
                "Night/001 The Quarry Lamps - Track 1.mp3", "Night/002 The Quarry Lamps - Track 2.mp3",
                "Night/003 The Quarry Lamps - Track 3.mp3"
            ],
            FilesOf(app));
        Assert.Equal([SyncState.UpToDate, SyncState.UpToDate, SyncState.UpToDate], States(app, stick));
        Assert.Equal("Everything on the stick is up to date.", app.Get<MusicSticks>().Update(stick).Problem);
        var sounds = Sounds(app);

        app.Get<ITrackLists>().SetTracks(set, [tracks[1], tracks[0], tracks[2]], "turned");
        Assert.Equal([SyncState.Moved, SyncState.Moved, SyncState.UpToDate], States(app, stick));
        await UpdateAsync(app, stick);
        Assert.Equal(
            [
                "Night/001 The Quarry Lamps - Track 2.mp3", "Night/002 The Quarry Lamps - Track 1.mp3",
                "Night/003 The Quarry Lamps - Track 3.mp3"
            ],
            FilesOf(app));

        app.Get<TrackNotes>().SetRating(tracks[2], 4);
        Assert.Equal([SyncState.UpToDate, SyncState.UpToDate, SyncState.Tags], States(app, stick));
        await UpdateAsync(app, stick);
        Assert.Equal("4", TagsOf(app, "Night/003 The Quarry Lamps - Track 3.mp3").First(FieldNames.Rating));
        Assert.Equal(sounds.Order(), Sounds(app).Order());

        app.Get<ITrackLists>().SetTracks(set, [tracks[1]], "two taken out");
        Assert.Equal(
            [SyncState.Moved, SyncState.Gone, SyncState.Gone],
            [.. States(app, stick).Select(state => state == SyncState.UpToDate ? SyncState.Moved : state)]);
        await UpdateAsync(app, stick);
        Assert.Equal(["Night/001 The Quarry Lamps - Track 2.mp3"], FilesOf(app));
        app.Get<StickStore>().ArrangeLists(stick, _ => []);
        await UpdateAsync(app, stick);
        Assert.Empty(FilesOf(app));
        Assert.False(Directory.Exists(Path.Combine(Stick(app), "Night")));
    }

    /// <summary>Files that were made and are on the stick already leave an empty spool, which stops nothing.</summary>
    [Fact]
    public async Task A_long_update_does_not_stop_while_files_wait_to_be_made()
    {
        await using var app = new RunningApp(options => options with { WorkerCount = 1 });
        var (stick, _, _) = await StickOfSetAsync(app, "car-radio", 16);
        long run = app.Get<MusicSticks>().Update(stick).RunId!.Value;
        await RunningApp.UntilAsync(() => app.Get<RunStore>().Get(run)!.State is RunState.Done or RunState.Stopped);
        Assert.Equal(RunState.Done, app.Get<RunStore>().Get(run)!.State);
        Assert.Equal(16, FilesOf(app).Count());
    }

    /// <summary>Hidden files of others, named as ours are, stay; a copy of the stick beside it is not the stick.</summary>
    [Fact]
    public async Task Only_what_was_written_here_is_removed_and_a_copy_is_not_the_stick()
    {
        await using var app = new RunningApp();
        var (stick, _, _) = await StickOfSetAsync(app, "car-radio", 2);
        foreach (var name in (string[])[".wergamon-note.txt", ".wergamon-0123456789ab.part", ".wergamon-aside-1-0.mp3"])
            File.WriteAllText(Path.Combine(Stick(app), name), "somebody else's");
        await UpdateAsync(app, stick);
        Assert.All(
            (string[])[".wergamon-note.txt", ".wergamon-0123456789ab.part", ".wergamon-aside-1-0.mp3"],
            name => Assert.Equal("somebody else's", File.ReadAllText(Path.Combine(Stick(app), name))));

        using (var copying = Process.Start("cp", ["-a", Stick(app), app.Folder["a copy"]]))
            copying.WaitForExit();
        Directory.CreateDirectory(app.Folder["drawer"]);
        Directory.Move(Stick(app), app.Folder["drawer/stick"]);
        Assert.Null(Look(app, stick).Place);
        // The same folder under another name is.
        Directory.Move(app.Folder["drawer/stick"], app.Folder["renamed"]);
        Assert.Equal(app.Folder["renamed"], Look(app, stick).Place);
        // What a look finds is kept by the command for it, and then there is nothing left to keep.
        Assert.False(Look(app, stick).IsReconciled);
        app.Get<StickViews>().Reconcile(stick);
        Assert.True(Look(app, stick).IsReconciled);
        Assert.Equal(app.Folder["renamed"], Look(app, stick).Settings.Place);
    }

    /// <summary>Taking over the order of a list takes over the order: tracks that stay off the stick stay in the set.</summary>
    [Fact]
    public async Task Taking_over_an_order_drops_nothing_from_the_set()
    {
        await using var app = new RunningApp();
        var (stick, set, tracks) = await StickOfSetAsync(app, "dj-decks", 4);
        app.Get<StickStore>().Skip(stick, tracks[1]);
        await UpdateAsync(app, stick);
        var deck = app.Get<DeckSlots>().Open(stick)!;
        var list = Assert.Single(deck.Lists());
        Assert.Equal(3, list.Tracks.Count);
        deck.SetOrder(list.Path, [list.Tracks[2], list.Tracks[1], list.Tracks[0]]);
        var order = Assert.Single(Changes(app, stick).Lists);
        app.Get<StickReading>().Apply(stick, [new(order.Line.Step.Key, StickDecision.Order, true)]);
        Assert.Equal([tracks[3], tracks[2], tracks[0], tracks[1]], app.Get<ITrackLists>().Get(set)!.TrackIds);
    }

    /// <summary>
    /// The whole circle: rated, marked, commented and put in another order on the deck, deleted there, and taken over piece by piece.
    /// </summary>
    [Theory]
    [InlineData("dj-decks")]
    [InlineData("phone")]
    public async Task Changes_made_on_a_deck_are_read_back_and_applied(string device)
    {
        await using var app = new RunningApp();
        var (stick, set, tracks) = await StickOfSetAsync(app, device, 4);
        app.Get<TrackNotes>().SetComment(tracks[1], "Peak of the night");
        await UpdateAsync(app, stick);
        var deck = app.Get<DeckSlots>().Open(stick)!;
        var list = Assert.Single(deck.Lists());
        var paths = list.Tracks;
        deck.Write(
            paths[0],
            new DeckNote { Rating = 5, Marks = [new ChapterMark(TimeSpan.FromSeconds(0.5), "Drop")], Tempo = 121.5, FirstBeat = 0.25 });
        deck.Write(paths[1], new DeckNote { Comment = "Too loud" });
        deck.Delete(paths[3]);
        deck.SetOrder(list.Path, [paths[2], paths[0], paths[1], paths[3]]);
        // The second was changed here, too.
        app.Get<TrackNotes>().SetComment(tracks[1], "Second hour");

        var reading = app.Get<StickReading>();
        var changes = Changes(app, stick);
        Assert.Equal(
            [FieldNames.Rating, FieldNames.Chapters, FieldNames.Tempo, StickNotes.FirstBeat],
            changes.Files[0].Notes.Select(note => note.Field));
        Assert.All(changes.Files[0].Notes, note => Assert.False(note.IsConflict));
        var conflict = Assert.Single(changes.Files[1].Notes);
        Assert.Equal(
            (FieldNames.Comment, "Second hour", "Too loud", true),
            (conflict.Field, conflict.Here[0], conflict.There[0], conflict.IsConflict));
        var order = Assert.Single(changes.Lists);
        Assert.Equal([tracks[2], tracks[0], tracks[1], tracks[3]], order.There.Select(entry => entry.TrackId!.Value));
        Assert.False(order.IsConflict);
        Assert.Equal(paths[3], Assert.Single(changes.Deleted).Path);

        // Nothing is overwritten before it is decided.
        await UpdateAsync(app, stick);
        Assert.Equal("Too loud", deck.Track(paths[1])!.Comment);
        Assert.Equal(changes.Files.Count, Changes(app, stick).Files.Count);
        deck.Delete(paths[3]);

        var (first, second) = (changes.Files[0].Line.Step.Key, changes.Files[1].Line.Step.Key);
        reading.Apply(stick, [
            new(first, FieldNames.Rating, true), new(first, FieldNames.Chapters, true), new(first, FieldNames.Tempo, true),
            new(first, StickNotes.FirstBeat, true),
            new(second, FieldNames.Comment, false), new(order.Line.Step.Key, StickDecision.Order, true),
            new(Changes(app, stick).Deleted[0].Step.Key, StickDecision.Deletion, true),
        ]);
        Assert.Equal(0, Changes(app, stick).Count);
        var taken = app.Get<MusicSets>().Track(tracks[0])!;
        Assert.Equal((5, 121.5, 0.25), (taken.Own.Rating, taken.Own.Tempo, taken.Own.FirstBeat));
        Assert.Equal((0.5, "Drop"), app.Get<TrackNotes>().Marks(tracks[0]).Select(mark => (mark.Seconds, mark.Title)).Single());
        Assert.Equal([tracks[2], tracks[0], tracks[1], tracks[3]], app.Get<ITrackLists>().Get(set)!.TrackIds);
        // What was taken over is there already; only our comment and the list are written.
        Assert.Equal([SyncState.Tags, SyncState.Sound], Look(app, stick).ToDo.Select(line => line.Step.State));
        await UpdateAsync(app, stick);
        Assert.Equal("Second hour", deck.Track(paths[1])!.Comment);
        Assert.Equal([paths[2], paths[0], paths[1]], Assert.Single(deck.Lists()).Tracks);
        Assert.Equal("Everything on the stick is up to date.", app.Get<MusicSticks>().Update(stick).Problem);
        // The set can be taken back as any change.
        Assert.True(app.Get<MusicSets>().Undo(set));
        Assert.Equal(tracks, app.Get<ITrackLists>().Get(set)!.TrackIds);
    }

    /// <summary>
    /// A device that plays in the order of writing gets a folder anew as soon as anything in it changes; the times at which the entries
    /// were made tell.
    /// </summary>
    [Fact]
    public async Task A_stick_that_plays_in_the_order_of_writing_is_written_in_order()
    {
        await using var app = new RunningApp();
        var (stick, set, tracks) = await StickOfSetAsync(app, "mp3-player", 4);
        await UpdateAsync(app, stick);
        Assert.Equal(FilesOf(app), InOrderOfWriting(app));
        app.Get<ITrackLists>().SetTracks(set, [tracks[3], tracks[1], tracks[0]], "turned");
        app.Get<TrackNotes>().SetRating(tracks[1], 3);
        Assert.Equal([SyncState.Order, SyncState.Tags, SyncState.Order, SyncState.Gone], States(app, stick));
        await UpdateAsync(app, stick);
        Assert.Equal(
            [
                "Night/001 The Quarry Lamps - Track 4.mp3", "Night/002 The Quarry Lamps - Track 2.mp3",
                "Night/003 The Quarry Lamps - Track 1.mp3"
            ],
            InOrderOfWriting(app));
        Assert.Equal("3", TagsOf(app, "Night/002 The Quarry Lamps - Track 2.mp3").First(FieldNames.Rating));
        Assert.Equal([".wergamon-stick.json"], Directory.GetFiles(Stick(app)).Select(Path.GetFileName));
    }

    /// <summary>
    /// Random sets, files put, changed and deleted on the stick, runs stopped at any moment: after the next run the stick holds the set in
    /// order, and nothing else but what is somebody's own.
    /// </summary>
    [Theory]
    [InlineData(PlayOrder.ByName, StickLayout.FolderPerList)]
    [InlineData(PlayOrder.ByWriting, StickLayout.FolderPerList)]
    [InlineData(PlayOrder.ByName, StickLayout.ByAlbum)]
    public async Task Whatever_happens_the_next_run_brings_the_stick_in_step(PlayOrder order, StickLayout layout)
    {
        const int Tracks = 5;
        await using var app = new RunningApp();
        var (stick, set, tracks) = await StickOfSetAsync(app, "phone", Tracks);
        // Files are copied as they are, so that what lies on the stick can be compared byte for byte.
        app.Get<MusicSticks>()
            .SetDevice(
                stick,
                app.Get<DeviceChoices>()
                    .Add(
                        new DeviceDescription("", "Test player", new WavSettings())
                        {
                            KeepsTags = true,
                            Order = order,
                            Layout = layout,
                            HasPlaylists = layout == StickLayout.ByAlbum
                        }));
        var rounds = Gen.Select(
            Gen.Int[0, Tracks - 1].Array[0, Tracks], Gen.Select(Gen.Int[0, 2], Gen.Int[0, 9]).Array[0, 3], Gen.Int[0, 60]).Array[1, 4];
        await rounds.SampleAsync(
            async sample =>
            {
                var theirs = new Dictionary<string, string>();
                foreach (var (list, edits, milliseconds) in sample)
                {
                    foreach (var (kind, which) in edits)
                        Edit(kind, which, theirs);
                    app.Get<ITrackLists>().SetTracks(set, [.. list.Distinct().Select(i => tracks[i])], "test");
                    if (app.Get<MusicSticks>().Update(stick).RunId is not { } run)
                        continue;
                    await Task.Delay(milliseconds);
                    app.Get<RunScheduler>().Stop(run);
                    await RunningApp.UntilAsync(() => app.Get<RunStore>().Items(run).All(item => item.State != ItemState.Working));
                    app.Get<DeliveryRuns>().GiveUp(stick);
                }

                for (int i = 0; i < 2 && app.Get<MusicSticks>().Update(stick).RunId is { } last; i++)
                    await app.EndAsync(last);
                var view = Look(app, stick);
                Assert.All(
                    view.Lines,
                    line =>
                        Assert.True(line.Step.State is SyncState.UpToDate or SyncState.ChangedThere, $"{line.Path}: {line.Step.State}"));
                foreach (var (path, content) in theirs)
                    Assert.Equal(content, await File.ReadAllTextAsync(Path.Combine(Stick(app), path)));
                foreach (var line in view.Lines.Where(line => line is { IsPlaylist: false, Step.State: SyncState.UpToDate }))
                    Assert.True(Placement.AreEqual(line.Track!.Track.Master.Path, Path.Combine(Stick(app), line.Path)), line.Path);
                Assert.Equal(
                    view.Lines.Select(line => line.Path).Concat(theirs.Keys).Distinct().Order(StringComparer.Ordinal), FilesOf(app));
                if (order == PlayOrder.ByWriting)
                    Assert.Equal(
                        view.Lines.Where(line => line.Step.State == SyncState.UpToDate).Select(line => line.Path),
                        InOrderOfWriting(app).Where(path => !theirs.ContainsKey(path)));
                // The next sample begins with an empty stick.
                foreach (var path in FilesOf(app).ToList())
                    File.Delete(Path.Combine(Stick(app), path));
                app.Get<ITrackLists>().SetTracks(set, [], "test");
                Assert.DoesNotContain(Look(app, stick).Lines, line => !line.IsPlaylist);
            },
            iter: 12, threads: 1);

        void Edit(int kind, int which, Dictionary<string, string> theirs)
        {
            var files = FilesOf(app).ToList();
            var path = files.Count > 0 ? files[which % files.Count] : null;
            if (kind == 0 && path is not null)
            {
                File.Delete(Path.Combine(Stick(app), path));
                theirs.Remove(path);
                return;
            }

            // Where one of ours lies, or would go.
            path = kind == 1 && path is not null
                ? path
                : layout == StickLayout.FolderPerList
                ? $"Night/{which % Tracks + 1:000} The Quarry Lamps - Track {which % Tracks + 1}.wav"
                : $"The Quarry Lamps/Night Shift/{which % Tracks + 1:00} Track {which % Tracks + 1}.wav";
            Directory.CreateDirectory(Path.GetDirectoryName(Path.Combine(Stick(app), path))!);
            theirs[path] = $"theirs {Guid.NewGuid()}";
            File.WriteAllText(Path.Combine(Stick(app), path), theirs[path]);
        }
    }

    /// <summary>
    /// A stick that is taken away stops the run, another one in its place is told, and plugged in elsewhere it is found again.
    /// </summary>
    [Fact]
    public async Task Stick_may_be_removed_and_come_back()
    {
        await using var app = new RunningApp();
        var (stick, set, tracks) = await StickOfSetAsync(app, "phone", 3);
        // Between the look at the stick and the first step on it.
        await app.Get<RunScheduler>().StopAsync(CancellationToken.None);
        long run = app.Get<MusicSticks>().Update(stick).RunId!.Value;
        Directory.CreateDirectory(app.Folder["drawer"]);
        Directory.Move(Stick(app), Path.Combine(app.Folder["drawer"], "stick"));
        await app.Get<RunScheduler>().StartAsync(CancellationToken.None);
        await RunningApp.UntilAsync(() => app.Get<RunStore>().Get(run)!.State == RunState.Stopped);
        Assert.Contains("is no longer there. Plug it in again", app.Get<RunStore>().Get(run)!.StopReason, StringComparison.Ordinal);
        Assert.False(Directory.Exists(Stick(app)));
        Assert.Null(Look(app, stick).Place);
        // Plugged in again, it goes on by itself.
        Directory.Move(Path.Combine(app.Folder["drawer"], "stick"), Stick(app));
        Assert.All(await app.EndAsync(run), item => Assert.Equal(ItemState.Done, item.State));
        Assert.Equal([SyncState.UpToDate, SyncState.UpToDate, SyncState.UpToDate, SyncState.UpToDate], States(app, stick));

        app.Get<ITrackLists>().SetTracks(set, [tracks[0]], "two taken out");
        Directory.Move(Stick(app), Stick(app) + "-elsewhere");
        var view = Look(app, stick);
        Assert.Equal((Stick(app) + "-elsewhere", 2), (view.Place, view.Count(SyncState.Gone)));
        Assert.Contains(
            "shares files with the music folder", app.Get<MusicSticks>().Add(app.Music, null, "phone").Problem, StringComparison.Ordinal);
        Assert.Contains(
            "shares files with the music folder", app.Get<MusicSticks>().Add(app.Folder.Path, null, "phone").Problem,
            StringComparison.Ordinal);
        // Another stick at the old place is another stick.
        Directory.CreateDirectory(Stick(app));
        Assert.NotEqual(stick, app.Get<MusicSticks>().Add(Stick(app), null, "phone").Id);
        Assert.Equal(stick, app.Get<MusicSticks>().Add(Stick(app) + "-elsewhere", null, "phone").Id);
        Assert.Contains("is not at", app.Get<MusicSticks>().SetPlace(stick, Stick(app)), StringComparison.Ordinal);
        Assert.Contains("is not below", app.Get<MusicSticks>().Add("/etc", null, "phone").Problem, StringComparison.Ordinal);
    }

    /// <summary>
    /// FAT keeps local time: after the clocks have changed, all files are an hour off and none has changed. An edit is seen all the same.
    /// </summary>
    [Fact]
    public async Task A_clock_that_has_moved_changes_nothing()
    {
        await using var app = new RunningApp();
        var (stick, _, tracks) = await StickOfSetAsync(app, "phone", 3);
        await UpdateAsync(app, stick);
        foreach (var path in Directory.GetFiles(
            Stick(app), "*", new EnumerationOptions { RecurseSubdirectories = true, AttributesToSkip = 0 }))
            File.SetLastWriteTimeUtc(path, File.GetLastWriteTimeUtc(path).AddHours(1));
        Assert.All(States(app, stick), state => Assert.Equal(SyncState.UpToDate, state));
        var deck = app.Get<DeckSlots>().Open(stick)!;
        deck.Write(deck.Lists()[0].Tracks[1], new DeckNote { Rating = 2 });
        Assert.Equal(FieldNames.Rating, Assert.Single(Assert.Single(Changes(app, stick).Files).Notes).Field);
        // What is written now is known by the same clock as what was there.
        app.Get<TrackNotes>().SetRating(tracks[2], 5);
        await UpdateAsync(app, stick);
        Assert.Equal([SyncState.UpToDate, SyncState.ChangedThere, SyncState.UpToDate, SyncState.UpToDate], States(app, stick));
        // Steps on the stick go by it, too.
        app.Get<StickStore>().ArrangeLists(stick, _ => []);
        await UpdateAsync(app, stick);
        Assert.Equal(["The Quarry Lamps/Night Shift/02 Track 2.wav"], FilesOf(app));
    }

    /// <summary>
    /// Music that somebody has put on the stick is copied into a music folder when it is wanted; the stick stays as it was.
    /// </summary>
    [Fact]
    public async Task Music_on_a_stick_is_imported_into_the_library()
    {
        await using var app = new RunningApp();
        var (stick, _, _) = await StickOfSetAsync(app, "phone", 1);
        await UpdateAsync(app, stick);
        var theirs = Path.Combine(Directory.CreateDirectory(Path.Combine(Stick(app), "Theirs")).FullName, "07 Guest.wav");
        File.Copy(app.AddTrack(7, 1.3, "Guests"), theirs);
        File.Delete(Path.Combine(app.Music, "Guests 7.wav"));
        await File.WriteAllTextAsync(Path.Combine(Stick(app), "notes.txt"), "words");
        await app.ScanAsync();
        Assert.Equal(["Theirs/07 Guest.wav"], Changes(app, stick).Added);
        var folder = Assert.Single(app.Get<MusicFolders>().List());
        Assert.Contains(
            "None of the picked files", app.Get<StickImports>().Start(stick, folder.Id, ["../stick/notes", "Night/x.wav"]).Problem,
            StringComparison.Ordinal);
        Assert.Contains("is missing", app.Get<StickImports>().Start(stick, 99, ["Theirs/07 Guest.wav"]).Problem, StringComparison.Ordinal);
        for (int time = 0; time < 2; time++)
        {
            var (run, problem) = app.Get<StickImports>().Start(stick, folder.Id, ["Theirs/07 Guest.wav"]);
            Assert.Null(problem);
            Assert.Equal(ItemState.Done, Assert.Single(await app.EndAsync(run!.Value)).State);
        }

        // Twice the same is there once.
        Assert.True(
            Placement.AreEqual(
                theirs, Assert.Single(Directory.GetFiles(Path.Combine(app.Music, "Lamp stick"), "*", SearchOption.AllDirectories))));
        await RunningApp.UntilAsync(() => app.Get<LibraryQueries>().Albums().Any(album => album.Title == "Guests"));
        Assert.Equal(SyncState.UpToDate, States(app, stick)[0]);
        Assert.Empty(Changes(app, stick).Added);
    }

    /// <summary>
    /// Music that came from a stick and goes onto it later is there already: it gets the name that it should have, and no second file.
    /// </summary>
    [Theory]
    [InlineData("dj-decks")]
    [InlineData("phone")]
    public async Task Music_imported_from_a_stick_is_not_written_there_twice(string device)
    {
        await using var app = new RunningApp();
        var (stick, _, _) = await StickOfSetAsync(app, device, 1);
        await UpdateAsync(app, stick);
        var theirs = Path.Combine(Directory.CreateDirectory(Path.Combine(Stick(app), "Theirs")).FullName, "guest.wav");
        File.Move(app.AddTrack(7, 1.3, "Guests"), theirs);
        var (run, problem) = app.Get<StickImports>().Start(stick, Assert.Single(app.Get<MusicFolders>().List()).Id, ["Theirs/guest.wav"]);
        Assert.Null(problem);
        await app.EndAsync(run!.Value);
        // What the analysis finds goes into the tags of the stick, too.
        await RunningApp.UntilAsync(
            () => app.Get<LibraryQueries>().Albums().Any(album => album.Title == "Guests")
                && app.Get<BackgroundAnalysis>().CountLeft() == 0);

        // As long as no list has it, it is theirs.
        Assert.Contains("Theirs/guest.wav", Look(app, stick).Foreign);
        var guest = app.Get<LibraryQueries>()
            .TracksOfAlbum(app.Get<LibraryQueries>().Albums().Single(album => album.Title == "Guests").Id)
            .Single();
        // What was said of it since goes along.
        app.Get<TrackNotes>().SetRating(guest.Id, 4);
        app.Get<StickLists>().AddPart(stick, "Guests", LibraryPart.OfTracks([guest.Id]));
        var view = Look(app, stick);
        Assert.DoesNotContain("Theirs/guest.wav", view.Foreign);
        var line = view.Lines.Single(line => line.Track?.Track.Id == guest.Id);
        Assert.Equal(SyncState.Sound, line.Step.State);
        await UpdateAsync(app, stick);
        Assert.False(File.Exists(theirs));
        Assert.Equal(2, FilesOf(app).Count(path => path.EndsWith(".wav", StringComparison.Ordinal)));
        Assert.Equal(
            SampleDigest.Of(new WavReader(File.OpenRead(guest.Master.Path))),
            SampleDigest.Of(new WavReader(File.OpenRead(Path.Combine(Stick(app), line.Path)))));
        Assert.Equal("Everything on the stick is up to date.", app.Get<MusicSticks>().Update(stick).Problem);
    }

    /// <summary>A file of ours that somebody wrote to and no list has any more stays until the person says what becomes of it.</summary>
    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public async Task A_changed_file_that_no_list_has_stays_until_it_is_decided(bool keeps)
    {
        await using var app = new RunningApp();
        var (stick, _, _) = await StickOfSetAsync(app, "phone", 2);
        await UpdateAsync(app, stick);
        var deck = app.Get<DeckSlots>().Open(stick)!;
        var (list, path) = (deck.Lists()[0], deck.Lists()[0].Tracks[0]);
        deck.Write(path, new DeckNote { Rating = 1 });
        deck.SetOrder(list.Path, list.Tracks.Reverse().ToList());
        app.Get<StickStore>().ArrangeLists(stick, _ => []);
        await UpdateAsync(app, stick);
        Assert.Equal([list.Path, path], FilesOf(app));
        var files = Changes(app, stick).Files;
        Assert.Equal(2, files.Count);
        app.Get<StickReading>().Apply(stick, [.. files.Select(file => new StickDecision(file.Line.Step.Key, StickDecision.File, keeps))]);
        Assert.Equal(0, Changes(app, stick).Count);
        if (keeps)
            Assert.Equal([list.Path, path], Look(app, stick).Foreign.Order(StringComparer.Ordinal));
        else
            await UpdateAsync(app, stick);
        Assert.Equal(keeps ? [list.Path, path] : [], FilesOf(app));
    }

    private static List<string> InOrderOfWriting(RunningApp app) =>
        [.. FilesOf(app).OrderBy(path => ChangedAt(Path.Combine(Stick(app), path)), StringComparer.Ordinal)];

    /// <summary>When the entry of a file was last made, as the file system says: renaming counts.</summary>
    private static string ChangedAt(string path)
    {
        using var stat = Process.Start(new ProcessStartInfo("stat", ["-c", "%z", path]) { RedirectStandardOutput = true })!;
        return stat.StandardOutput.ReadToEnd();
    }

    /// <summary>A look at a stick, which keeps nothing of what it finds.</summary>
    private static StickView Look(RunningApp app, long stick)
    {
        var before = Kept(app);
        var view = app.Get<StickViews>().View(stick)!;
        Assert.Equal(before, Kept(app));
        return view;
    }

    private static string Kept(RunningApp app)
    {
        using var connection = app.Get<Database>().Open();
        return string.Join(
            '\n',
            new[] { "delivery", "stick_list", "stick_file", "stick_intent", "stick_import", "stick_skip" }
                .SelectMany(table => connection.Query($"SELECT * FROM {table}"))
                .Select(row => string.Join(' ', ((IDictionary<string, object>)row).Values)));
    }

    private static StickChanges Changes(RunningApp app, long stick) => app.Get<StickReading>().Read(Look(app, stick));

    private static string Stick(RunningApp app) => app.Folder["stick"];

    private static async Task<(long Stick, long Set, IReadOnlyList<long> Tracks)> StickOfSetAsync(RunningApp app, string device, int count)
    {
        for (int i = 1; i <= count; i++)
            app.AddTrack(i, 1 + 0.25 * i);
        await app.StartAsync();
        await app.ScanAsync();
        await RunningApp.UntilAsync(() => app.Get<BackgroundAnalysis>().CountLeft() == 0);
        var tracks = app.Get<LibraryQueries>()
            .TracksOfAlbum(Assert.Single(app.Get<LibraryQueries>().Albums()).Id)
            .Select(track => track.Id)
            .ToList();
        long set = app.Get<SetStore>().Create("Night")!.Value;
        app.Get<MusicSets>().Add(set, tracks);
        Directory.CreateDirectory(Stick(app));
        var (stick, problem) = app.Get<MusicSticks>().Add(Stick(app), "Lamp stick", device);
        Assert.Null(problem);
        app.Get<StickLists>().AddSet(stick!.Value, set);
        return (stick.Value, set, tracks);
    }

    private static IReadOnlyList<SyncState> States(RunningApp app, long stick) =>
        [.. Look(app, stick).Lines.Select(line => line.Step.State)];

    private static async Task UpdateAsync(RunningApp app, long stick)
    {
        var (run, problem) = app.Get<MusicSticks>().Update(stick);
        Assert.Null(problem);
        Assert.All(await app.EndAsync(run!.Value), item => Assert.True(item.State == ItemState.Done, item.Failure));
    }

    private static IEnumerable<string> FilesOf(RunningApp app) => StickPlaces.FilesAt(Stick(app)).Keys.Order(StringComparer.Ordinal);

    private static List<string> Sounds(RunningApp app) => FilesOf(app).Select(path =>
    {
        using var stream = File.OpenRead(Path.Combine(Stick(app), path));
        return ((TaggedFormat)FileFormats.Of(stream)!).HashSound(stream);
    }).ToList();

    private static TagSet TagsOf(RunningApp app, string path)
    {
        using var stream = File.OpenRead(Path.Combine(Stick(app), path));
        return FileReading.ReadTags(stream).Tags;
    }
}
