using Dapper;
using Wergamon.App.Convert;
using Wergamon.App.Library.Listening;
using Wergamon.App.Library.Removing;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Sync;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Convert;

/// <summary>Plans that are kept, and brought up to date with the library again and again.</summary>
public sealed class MirrorTests
{
    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 2, 16);

    /// <summary>
    /// New, changed in sound, changed in tags alone, names exchanged, left out, and a source that is away: each gets just what it needs.
    /// </summary>
    [Fact]
    public async Task Only_what_differs_is_carried_out()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        Write(app, "a", 1, "Cage", 1);
        Write(app, "b", 2, "Winch", 1);
        Write(app, "c", 3, "Sump", 1);
        Write(app, "d", 4, "Adit", 1);
        Write(app, "e", 5, "Drift", 1);
        await AnalyseAsync(app);
        long mirror = Keep(app, LibraryPart.OfView(new TrackView("", [], null, null, TrackSort.Artist, false)));
        Assert.Equal(5, View(app, mirror).Count(SyncState.New));
        await UpdateAsync(app, mirror);
        Assert.Equal(["01 Cage.mp3", "02 Winch.mp3", "03 Sump.mp3", "04 Adit.mp3", "05 Drift.mp3"], Files(app));
        Assert.Equal(5, View(app, mirror).Count(SyncState.UpToDate));
        Assert.Null(app.Get<Mirrors>().Update(mirror));
        var sounds = Files(app).ToDictionary(name => name, name => SoundOf(app, name));

        // Two exchange their names, one gets other sound, one is new; one goes away, and one is left out.
        Write(app, "a", 2, "Winch", 1);
        Write(app, "b", 1, "Cage", 1);
        Write(app, "c", 3, "Sump", 77);
        Write(app, "f", 6, "Stope", 1);
        File.Delete(Path.Combine(app.Music, "d.wav"));
        LeaveOut(app, mirror, "Drift");
        await AnalyseAsync(app);
        var view = View(app, mirror);
        Assert.Equal(
            [SyncState.Tags, SyncState.Tags, SyncState.Sound, SyncState.New, SyncState.SourceMissing, SyncState.Gone],
            new[] { "a", "b", "c", "f" }.Select(name => StateOf(view, name))
                .Concat(
                    [
                        view.Lines.Single(line => line.Title == "04 Adit").Step.State,
                        view.Lines.Single(line => line.Title == "05 Drift").Step.State
                    ]));
        await UpdateAsync(app, mirror);
        Assert.Equal(["01 Cage.mp3", "02 Winch.mp3", "03 Sump.mp3", "04 Adit.mp3", "06 Stope.mp3"], Files(app));
        Assert.Equal(["Cage", "Winch", "Sump", "Adit", "Stope"], Files(app).Select(name => TagsOf(app, name).First(FieldNames.Title)));
        // The sound of the two has changed places with the names, byte for byte.
        Assert.Equal(
            (sounds["02 Winch.mp3"], sounds["01 Cage.mp3"], sounds["04 Adit.mp3"]),
            (SoundOf(app, "01 Cage.mp3"), SoundOf(app, "02 Winch.mp3"), SoundOf(app, "04 Adit.mp3")));
        Assert.NotEqual(sounds["03 Sump.mp3"], SoundOf(app, "03 Sump.mp3"));
        Assert.Equal(2, app.Get<Trash>().List().Count);
        view = View(app, mirror);
        Assert.Equal((4, 1, 0), (view.Count(SyncState.UpToDate), view.Count(SyncState.SourceMissing), view.ToDo.Count));
        // The library knows each copy by its present name and tags.
        var copies = app.Get<LibraryQueries>()
            .TracksById(view.Lines.Where(line => line.Line is not null).Select(line => line.TrackId).ToList());
        Assert.Equal(
            Files(app).Where(name => !name.StartsWith("04", StringComparison.Ordinal)).Select(name => PathOf(app, name)),
            copies.SelectMany(track => track.Copies).Where(copy => copy.Sound.FileFormat == "mp3").Select(copy => copy.Path).Order());
    }

    /// <summary>
    /// A server that ends while a rename is recorded leaves either all of it or nothing: the next update takes the same name, not one
    /// beside it.
    /// </summary>
    [Fact]
    public async Task A_rename_is_recorded_as_a_whole()
    {
        await using var app = new RunningApp();
        long mirror = await OfOneTrackAsync(app);
        Write(app, "a", 2, "Winch", 1);
        await AnalyseAsync(app);
        var database = app.Get<Database>();
        database.Change(
            connection =>
                connection.Execute("CREATE TRIGGER cut BEFORE UPDATE OF path ON mirror_file BEGIN SELECT RAISE(ABORT, 'cut off'); END"));
        long run = app.Get<Mirrors>().Update(mirror)!.Value;
        await RunningApp.UntilAsync(() => app.Get<RunStore>().Get(run)!.State == RunState.Done);
        database.Change(connection => connection.Execute("DROP TRIGGER cut"));
        await UpdateAsync(app, mirror);
        Assert.Equal(["02 Winch.mp3"], Files(app));
        Assert.Equal(1, View(app, mirror).Count(SyncState.UpToDate));
    }

    /// <summary>A stick that is not plugged in is no reason to make everything again.</summary>
    [Fact]
    public async Task Missing_folder_stops_the_update()
    {
        await using var app = new RunningApp();
        long mirror = await OfOneTrackAsync(app);
        Directory.Move(app.Output, app.Output + "-away");
        Assert.True(View(app, mirror).IsAway);
        Assert.Null(app.Get<Mirrors>().Update(mirror));
        Directory.CreateDirectory(app.Output);
        Assert.Null(app.Get<Mirrors>().Update(mirror));
        Directory.Delete(app.Output);
        Directory.Move(app.Output + "-away", app.Output);
        Assert.Equal(1, View(app, mirror).Count(SyncState.UpToDate));
        // One that is really gone is made again.
        File.Delete(PathOf(app, "01 Cage.mp3"));
        Assert.NotNull(app.Get<Mirrors>().Update(mirror, remakesAll: true));
        await RunningApp.UntilAsync(() => View(app, mirror).Count(SyncState.UpToDate) == 1);
    }

    /// <summary>An album that gets another title stays the album of the mirror; its files move.</summary>
    [Fact]
    public async Task An_album_may_be_renamed()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        Write(app, "a", 1, "Cage", 1);
        Write(app, "b", 2, "Winch", 1);
        await AnalyseAsync(app);
        long mirror = Keep(app, Album(app));
        await UpdateAsync(app, mirror);
        Write(app, "a", 1, "Cage", 1, album: "Lamp Room");
        Write(app, "b", 2, "Winch", 1, album: "Lamp Room");
        await AnalyseAsync(app);
        Assert.All(View(app, mirror).Lines, line => Assert.Equal(SyncState.Tags, line.Step.State));
        await UpdateAsync(app, mirror);
        Assert.Equal(["Tin Orchard/Lamp Room/01 Cage.mp3", "Tin Orchard/Lamp Room/02 Winch.mp3"], app.OutputFiles());
        Assert.False(Directory.Exists(Path.Combine(app.Output, "Tin Orchard", "Winding House")));
    }

    /// <summary>A file of somebody else that has the name is left alone; the mirror keeps to the name that it found free.</summary>
    [Fact]
    public async Task A_foreign_file_is_left_alone_and_the_mirror_stays_steady()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        Write(app, "a", 1, "Cage", 1);
        await AnalyseAsync(app);
        var taken = PathOf(app, "01 Cage.mp3");
        Directory.CreateDirectory(Path.GetDirectoryName(taken)!);
        File.WriteAllText(taken, "somebody else's");
        long mirror = Keep(
            app, LibraryPart.OfTracks([app.Get<LibraryQueries>().TracksOfAlbum(app.Get<LibraryQueries>().Albums()[0].Id)[0].Id]));
        await UpdateAsync(app, mirror);
        Assert.Equal(["01 Cage (2).mp3", "01 Cage.mp3"], Files(app));
        Assert.Equal("somebody else's", File.ReadAllText(taken));
        Assert.Equal(1, View(app, mirror).Count(SyncState.UpToDate));
        Assert.Null(app.Get<Mirrors>().Update(mirror));
    }

    /// <summary>A mirror of an album of one track, brought up to date.</summary>
    private static async Task<long> OfOneTrackAsync(RunningApp app)
    {
        await app.StartAsync();
        Write(app, "a", 1, "Cage", 1);
        await AnalyseAsync(app);
        long mirror = Keep(app, Album(app));
        await UpdateAsync(app, mirror);
        return mirror;
    }

    private static long Keep(RunningApp app, LibraryPart part)
    {
        var plans = app.Get<Plans>();
        long plan = plans.Create("Player", "pocket-player", [.. app.Get<LibraryParts>().TracksOf(part).Select(track => track.Id)], part);
        Assert.Null(plans.SetOutputFolder(plan, app.Output));
        var (id, refusal) = app.Get<Mirrors>().Keep(plan);
        Assert.Null(refusal);
        return id!.Value;
    }

    private static LibraryPart Album(RunningApp app)
    {
        long id = app.Get<LibraryQueries>().Albums()[0].Id;
        return LibraryPart.OfAlbum(id, [.. app.Get<LibraryQueries>().TracksOfAlbum(id).Select(track => track.Id)]);
    }

    private static void LeaveOut(RunningApp app, long mirror, string title)
    {
        long plan = app.Get<Mirrors>().Edit(mirror)!.Value;
        app.Get<Plans>()
            .SetLeftOut(plan, [app.Get<Plans>().View(plan)!.Lines.Single(line => line.Title == title).Position], isLeftOut: true);
        Assert.Equal(mirror, app.Get<Mirrors>().Keep(plan).Id);
    }

    /// <summary>A look at a mirror, which keeps nothing of what it finds.</summary>
    private static MirrorView View(RunningApp app, long mirror)
    {
        var before = Kept(app);
        var view = app.Get<Mirrors>().View(mirror)!;
        Assert.Equal(before, Kept(app));
        return view;
    }

    private static string Kept(RunningApp app)
    {
        using var connection = app.Get<Database>().Open();
        return string.Join(
            '\n', connection.Query("SELECT * FROM mirror_file").Select(row => string.Join(' ', ((IDictionary<string, object>)row).Values)));
    }

    private static SyncState StateOf(MirrorView view, string file) =>
        view.Lines.Single(line => line.Line?.Track!.Master.Path.EndsWith($"/{file}.wav", StringComparison.Ordinal) == true).Step.State;

    private static async Task UpdateAsync(RunningApp app, long mirror)
    {
        long run = app.Get<Mirrors>().Update(mirror)!.Value;
        await app.EndAsync(run);
        Assert.All(app.Get<RunStore>().Items(run), item => Assert.Equal(ItemState.Done, item.State));
    }

    private static async Task AnalyseAsync(RunningApp app)
    {
        await app.ScanAsync();
        await RunningApp.UntilAsync(() => app.Get<BackgroundAnalysis>().CountLeft() == 0);
    }

    private static string PathOf(RunningApp app, string name) => Path.Combine(app.Output, "Tin Orchard", "Winding House", name);

    private static List<string> Files(RunningApp app) =>
        [
            .. Directory.EnumerateFiles(app.Output, "*", SearchOption.AllDirectories)
                .Select(path => Path.GetFileName(path))
                .Order(StringComparer.Ordinal)
        ];

    private static TagSet TagsOf(RunningApp app, string name)
    {
        using var stream = File.OpenRead(PathOf(app, name));
        return FileReading.ReadTags(stream).Tags;
    }

    private static string SoundOf(RunningApp app, string name)
    {
        using var stream = File.OpenRead(PathOf(app, name));
        return ((TaggedFormat)FileFormats.Of(stream)!).HashSound(stream);
    }

    private static void Write(RunningApp app, string file, int number, string title, int seed, string album = "Winding House")
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Title, title);
        tags.Set(FieldNames.Artist, "Tin Orchard");
        tags.Set(FieldNames.Album, album);
        tags.Set(FieldNames.Track, number.ToString(System.Globalization.CultureInfo.InvariantCulture));
        using var writer = new WavWriter(
            File.Create(Path.Combine(app.Music, file + ".wav")), Format, tail: [new TailChunk("id3 ", Id3v2Writer.Write(tags))]);
        TestSound.Noise(Format, 40_000 + 1_000 * file[0] + seed).CopyTo(writer);
    }
}
