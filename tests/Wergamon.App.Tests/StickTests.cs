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
