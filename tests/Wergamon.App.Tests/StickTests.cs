using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Library;
using Wergamon.App.Runs;
using Wergamon.App.Sets;
using Wergamon.Core.Formats;
using Wergamon.Core.Naming;
using Wergamon.Core.Playlists;
using Wergamon.Core.Sticks;
using Wergamon.Core.Tags;
using Wergamon.Devices.Decks;

namespace Wergamon.App.Tests;

/// <summary>Sticks with real files: what is written, in which order, what stays, and what came back.</summary>
public sealed class StickTests
{
    /// <summary>A set becomes a folder in play order; after a change of order only names change, after one of tags only tags are written.</summary>
    [Fact]
    public async Task A_set_is_brought_in_step_and_only_what_is_needed_is_written()
    {
        await using var app = new RunningApp();
        var (stick, set, tracks) = await StickOfSetAsync(app, "car-radio", 3);
        Assert.Equal([StickState.New, StickState.New, StickState.New], States(app, stick));
        await UpdateAsync(app, stick);
        Assert.Equal(["Night/001 The Quarry Lamps - Track 1.mp3", "Night/002 The Quarry Lamps - Track 2.mp3", "Night/003 The Quarry Lamps - Track 3.mp3"], FilesOf(app));
        Assert.Equal([StickState.UpToDate, StickState.UpToDate, StickState.UpToDate], States(app, stick));
        Assert.Equal("Everything on the stick is up to date.", app.Get<MusicSticks>().Update(stick).Problem);
        var sounds = Sounds(app);

        app.Get<ITrackLists>().SetTracks(set, [tracks[1], tracks[0], tracks[2]], "turned");
        Assert.Equal([StickState.Moved, StickState.Moved, StickState.UpToDate], States(app, stick));
        await UpdateAsync(app, stick);
        Assert.Equal(["Night/001 The Quarry Lamps - Track 2.mp3", "Night/002 The Quarry Lamps - Track 1.mp3", "Night/003 The Quarry Lamps - Track 3.mp3"], FilesOf(app));

        app.Get<TrackNotes>().SetRating(tracks[2], 4);
        Assert.Equal([StickState.UpToDate, StickState.UpToDate, StickState.Tags], States(app, stick));
        await UpdateAsync(app, stick);
        Assert.Equal("4", TagsOf(app, "Night/003 The Quarry Lamps - Track 3.mp3").First(FieldNames.Rating));
        Assert.Equal(sounds.Order(), Sounds(app).Order());

        app.Get<ITrackLists>().SetTracks(set, [tracks[1]], "two taken out");
        Assert.Equal([StickState.Moved, StickState.Gone, StickState.Gone], [.. States(app, stick).Select(state => state == StickState.UpToDate ? StickState.Moved : state)]);
        await UpdateAsync(app, stick);
        Assert.Equal(["Night/001 The Quarry Lamps - Track 2.mp3"], FilesOf(app));
        app.Get<StickStore>().ArrangeLists(stick, _ => []);
        await UpdateAsync(app, stick);
        Assert.Empty(FilesOf(app));
        Assert.False(Directory.Exists(Path.Combine(Stick(app), "Night")));
    }

    /// <summary>The whole circle: rated, marked, commented and put in another order on the deck, deleted there, and taken over piece by piece.</summary>
    [Theory]
    [InlineData("dj-decks")]
    [InlineData("phone")]
    public async Task What_was_changed_on_a_deck_is_read_back_and_taken_over(string device)
    {
        await using var app = new RunningApp();
        var (stick, set, tracks) = await StickOfSetAsync(app, device, 4);
        app.Get<TrackNotes>().SetComment(tracks[1], "Peak of the night");
        await UpdateAsync(app, stick);
        var deck = app.Get<DeckSlots>().Open(stick)!;
        var list = Assert.Single(deck.Lists());
        var paths = list.Tracks;
        deck.Write(paths[0], new DeckNote { Rating = 5, Marks = [new ChapterMark(TimeSpan.FromSeconds(0.5), "Drop")], Tempo = 121.5, FirstBeat = 0.25 });
        deck.Write(paths[1], new DeckNote { Comment = "Too loud" });
        deck.Delete(paths[3]);
        deck.SetOrder(list.Path, [paths[2], paths[0], paths[1], paths[3]]);
        // The second was changed here, too.
        app.Get<TrackNotes>().SetComment(tracks[1], "Second hour");

        var reading = app.Get<StickReading>();
        var changes = Changes(app, stick);
        Assert.Equal([FieldNames.Rating, FieldNames.Chapters, FieldNames.Tempo, StickNotes.FirstBeat], changes.Files[0].Notes.Select(note => note.Field));
        Assert.All(changes.Files[0].Notes, note => Assert.False(note.IsConflict));
        var conflict = Assert.Single(changes.Files[1].Notes);
        Assert.Equal((FieldNames.Comment, "Second hour", "Too loud", true), (conflict.Field, conflict.Here[0], conflict.There[0], conflict.IsConflict));
        var order = Assert.Single(changes.Lists);
        Assert.Equal([tracks[2], tracks[0], tracks[1], tracks[3]], order.There.Select(entry => entry.TrackId!.Value));
        Assert.False(order.IsConflict);
        Assert.Equal(paths[3], Assert.Single(changes.Deleted).Path);

        // Nothing is overwritten before it is decided.
        await UpdateAsync(app, stick);
        Assert.Equal("Too loud", deck.Track(paths[1])!.Comment);
        Assert.Equal(changes.Files.Count, Changes(app, stick).Files.Count);
        deck.Delete(paths[3]);

        string first = changes.Files[0].Line.Step.Key, second = changes.Files[1].Line.Step.Key;
        reading.Apply(stick, [
            new(first, FieldNames.Rating, true), new(first, FieldNames.Chapters, true), new(first, FieldNames.Tempo, true), new(first, StickNotes.FirstBeat, true),
            new(second, FieldNames.Comment, false), new(order.Line.Step.Key, StickDecision.Order, true), new(Changes(app, stick).Deleted[0].Step.Key, StickDecision.Deletion, true),
        ]);
        Assert.Equal(0, Changes(app, stick).Count);
        var taken = app.Get<MusicSets>().Track(tracks[0])!;
        Assert.Equal((5, 121.5, 0.25), (taken.OwnRating, taken.OwnTempo, taken.OwnBeat));
        Assert.Equal((0.5, "Drop"), app.Get<TrackNotes>().Marks(tracks[0]).Select(mark => (mark.Seconds, mark.Title)).Single());
        Assert.Equal([tracks[2], tracks[0], tracks[1], tracks[3]], app.Get<ITrackLists>().Get(set)!.TrackIds);
        // What was taken over is there already; only our comment and the list are written.
        Assert.Equal([StickState.Tags, StickState.Sound], app.Get<MusicSticks>().View(stick)!.ToDo.Select(line => line.Step.State));
        await UpdateAsync(app, stick);
        Assert.Equal("Second hour", deck.Track(paths[1])!.Comment);
        Assert.Equal([paths[2], paths[0], paths[1]], Assert.Single(deck.Lists()).Tracks);
        Assert.Equal("Everything on the stick is up to date.", app.Get<MusicSticks>().Update(stick).Problem);
        // The set can be taken back as any change.
        Assert.True(app.Get<MusicSets>().Undo(set));
        Assert.Equal(tracks, app.Get<ITrackLists>().Get(set)!.TrackIds);
    }

    private static StickChanges Changes(RunningApp app, long stick) => app.Get<StickReading>().Read(app.Get<MusicSticks>().View(stick)!);

    private static string Stick(RunningApp app) => app.Folder["stick"];

    private static async Task<(long Stick, long Set, IReadOnlyList<long> Tracks)> StickOfSetAsync(RunningApp app, string device, int count)
    {
        for (int i = 1; i <= count; i++)
            app.AddTrack(i, 1 + 0.25 * i);
        await app.StartAsync();
        await app.ScanAsync();
        await RunningApp.UntilAsync(() => app.Get<BackgroundAnalysis>().CountLeft() == 0);
        var tracks = app.Get<LibraryQueries>().TracksOfAlbum(Assert.Single(app.Get<LibraryQueries>().Albums()).Id).Select(track => track.Id).ToList();
        long set = app.Get<SetStore>().Create("Night")!.Value;
        app.Get<MusicSets>().Add(set, tracks);
        Directory.CreateDirectory(Stick(app));
        var (stick, problem) = app.Get<MusicSticks>().Add(Stick(app), "Lamp stick", device);
        Assert.Null(problem);
        app.Get<MusicSticks>().AddSet(stick!.Value, set);
        return (stick.Value, set, tracks);
    }

    private static IReadOnlyList<StickState> States(RunningApp app, long stick) => [.. app.Get<MusicSticks>().View(stick)!.Lines.Select(line => line.Step.State)];

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
