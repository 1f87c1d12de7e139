using CsCheck;
using Wergamon.App.Library.Matching;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Sets;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Music;
using Wergamon.Core.Playlists;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Sets;

/// <summary>Sets in the database, and the analysis of their music by real workers.</summary>
public sealed class SetTests
{
    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 1, 16);

    /// <summary>Any changes and undos, some of them asked for from an outdated page, against a plain list of tracks.</summary>
    [Fact]
    public async Task Any_changes_and_undos_leave_what_a_plain_list_would_hold()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var tracks = await AddTracksAsync(app, 8);
        var (store, sets) = (app.Get<SetStore>(), app.Get<MusicSets>());
        int count = 0;
        Gen.Select(Gen.Int[0, 6], Gen.Int[0, 8].Array[0, 3], Gen.Int[-2, 9]).Array[1, 12].Sample(
            steps =>
            {
                long id = store.Create($"Set {Interlocked.Increment(ref count)}")!.Value;
                var model = new List<long>();
                var before = new Stack<List<long>>();
                // What a window showed some steps ago.
                List<(long Item, long Track)> shown = [];
                foreach (var (step, (kind, places, number)) in steps.Index())
                {
                    if (step % 2 == 0)
                        shown = [.. sets.View(id)!.Lines.Select(line => (line.ItemId, line.Track.TrackId))];
                    var picked = places.Where(place => place < shown.Count).Select(place => shown[place]).ToList();
                    var items = picked.Select(each => each.Item).ToHashSet();
                    var chosen = picked.Select(each => each.Track).Where(model.Contains).ToHashSet();
                    (long Item, long Track)? place = number >= 0 && number < shown.Count ? shown[number] : null;
                    var after = model.ToList();
                    switch (kind)
                    {
                        case 0 or 1:
                            var fresh = places.Select(at => tracks[at % tracks.Length]).Distinct().ToList();
                            sets.Add(id, fresh);
                            after.AddRange(fresh.Where(track => !model.Contains(track)));
                            break;
                        case 2:
                            sets.Move(id, items, place?.Item);
                            var anchor = place is { } there
                                ? model.SkipWhile(track => track != there.Track)
                                    .Cast<long?>()
                                    .FirstOrDefault(track => !chosen.Contains(track!.Value))
                                : null;
                            after.RemoveAll(chosen.Contains);
                            after.InsertRange(anchor is { } next ? after.IndexOf(next) : after.Count, model.Where(chosen.Contains));
                            break;
                        case 3:
                            sets.Reverse(id, items);
                            var reversed = model.Where(track => chosen.Count == 0 || chosen.Contains(track)).Reverse().ToList();
                            after = [.. model.Select(track => chosen.Count == 0 || chosen.Contains(track) ? Take(reversed) : track)];
                            break;
                        case 4:
                            sets.Remove(id, items);
                            after.RemoveAll(chosen.Contains);
                            break;
                        case 5:
                            sets.Sort(id, new HashSet<long>(), SetSort.Title, isDescending: number < 3);
                            after = [.. number < 3 ? model.OrderDescending() : model.Order()];
                            break;
                        default:
                            Assert.Equal(before.Count > 0, sets.Undo(id));
                            model = before.Count > 0 ? before.Pop() : model;
                            after = model;
                            break;
                    }

                    if (!after.SequenceEqual(model))
                        before.Push(model);
                    model = after;
                    Assert.Equal(model, sets.View(id)!.Lines.Select(line => line.Track.TrackId));
                }
            },
            iter: 60, threads: 1);
    }

    [Fact]
    public async Task A_set_is_analysed_and_says_how_its_tracks_follow_each_other()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        Clicks(app, "Slow", 120, 0.5);
        Clicks(app, "Quick", 123, 0);
        File.WriteAllText(Path.Combine(app.Music, "broken.wav"), "RIFF");
        await app.ScanAsync();
        var (store, sets) = (app.Get<SetStore>(), app.Get<MusicSets>());
        var tracks = app.Get<TrackList>().Ids(new TrackView("", [], null, null, TrackSort.Title, true), 0, 10);
        long id = store.Create("Midsummer")!.Value;
        Assert.Null(store.Create("MIDSUMMER"));
        Assert.Equal(2, sets.Add(id, tracks).Added);
        // What is in the set already is told apart from what is no longer in the library.
        var (added, known) = sets.Add(id, [.. tracks, 4711]);
        Assert.Equal(0, added);
        Assert.Equal(tracks, known);
        Assert.Equal(1, sets.Add(id, [tracks[0]], isAgain: true).Added);
        Assert.True(sets.Undo(id));
        Assert.All(sets.View(id)!.Lines, line => Assert.Null(line.Track.Tempo));

        var items = await app.EndAsync(sets.Analyse(id)!.Value);
        Assert.All(items, item => Assert.Equal(ItemState.Done, item.State));
        Assert.Null(sets.Analyse(id));
        var lines = sets.View(id)!.Lines;
        Assert.Equal(["Slow", "Quick"], lines.Select(line => line.Track.Title));
        Assert.InRange(lines[0].Track.Tempo!.Value, 119.99, 120.01);
        Assert.InRange(lines[1].Track.Tempo!.Value, 122.99, 123.01);
        Assert.Equal("+2.5 %", lines[1].Step!.InWords.Split(',')[0]);
        Assert.Equal(TimeSpan.FromSeconds(20), lines[1].Start);
        store.SetSpacing(id, 500, 2000);
        Assert.Equal(TimeSpan.FromSeconds(18.5), sets.View(id)!.Lines[1].Start);
        Assert.Equal(TimeSpan.FromSeconds(38.5), sets.View(id)!.Set.Duration);
        // The other one fits after the first, once it is no longer in the set.
        sets.Remove(id, new HashSet<long> { lines[1].ItemId });
        var view = sets.View(id)!;
        Assert.Equal(["Quick"], sets.NextAfter(view, view.Lines[0]).Select(track => track.Title));

        // Another file under the name is not known yet.
        Clicks(app, "Slow", 90, 0);
        await app.ScanAsync();
        await RunningApp.UntilAsync(() => sets.View(id)!.Lines[0].Track is { Measured.IsAnalysed: false, Tempo: null });
        Assert.NotNull(sets.Analyse(id));
    }

    [Fact]
    public async Task A_playlist_becomes_a_set_and_says_what_is_not_there()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var tracks = await AddTracksAsync(app, 4);
        var (sets, playlists) = (app.Get<MusicSets>(), app.Get<SetPlaylists>());
        var list = PlaylistFormat.ReadAny(
            $"""
            #EXTM3U
            #PLAYLIST:From the laptop
            {Path.Combine(app.Music, "Night Shift 3.wav")}
            #EXTINF:-1,The Quarry Lamps - Track 1
            /gone/somewhere.flac
            #EXTINF:300,Wickwire - Not here
            C:\Music\not here.mp3
            #EXTINF:-1,
            /elsewhere/Night Shift 2.wav
            """)!;
        var made = playlists.Import(list, "laptop");
        Assert.Equal((3, "Not here"), (made.Found, Assert.Single(made.NotFound).Title));
        var view = sets.View(made.SetId!.Value)!;
        Assert.Equal("From the laptop", view.Set.Title);
        Assert.Equal([tracks[2], tracks[0], tracks[1]], view.Lines.Select(line => line.Track.TrackId));
        // Its own list leads back to the same tracks, and the name is taken by now.
        foreach (var format in PlaylistFormat.All)
        {
            var again = playlists.Import(PlaylistFormat.ReadAny(format.Write(playlists.Of(view)))!, "From the laptop");
            var copy = sets.View(again.SetId!.Value)!;
            Assert.Equal(view.Lines.Select(line => line.Track.TrackId), copy.Lines.Select(line => line.Track.TrackId));
            Assert.StartsWith("From the laptop (", copy.Set.Title, StringComparison.Ordinal);
        }

        Assert.Null(playlists.Import(new Playlist("Nothing", [new PlaylistEntry("/no/where.mp3", "", "", null)]), "x").SetId);
    }

    /// <summary>What a person says goes before what was measured; a joined track takes its places along.</summary>
    [Fact]
    public async Task Own_figures_and_places_survive_a_merge()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var tracks = await AddTracksAsync(app, 3);
        var (store, sets) = (app.Get<SetStore>(), app.Get<MusicSets>());
        long id = store.Create("Merged")!.Value;
        sets.Add(id, tracks);
        app.Get<TrackNotes>().SetFigures(tracks[1], 99.5, new MusicalKey(4, IsMinor: true), 4);
        app.Get<Database>().Change(connection => TrackMerge.Merge(connection, tracks[1], tracks[2]));
        var lines = sets.View(id)!.Lines;
        Assert.Equal([tracks[0], tracks[2], tracks[2]], lines.Select(line => line.Track.TrackId));
        Assert.Equal(new TrackFigures(99.5, new MusicalKey(4, IsMinor: true), 4), lines[1].Track.Figures);
    }

    /// <summary>Places, figures, comments and marks of music that leaves the library and comes back.</summary>
    [Fact]
    public async Task Own_figures_survive_a_removed_folder()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var tracks = await AddTracksAsync(app, 4);
        var (store, sets, notes, folders) = (app.Get<SetStore>(), app.Get<MusicSets>(), app.Get<TrackNotes>(), app.Get<MusicFolders>());
        long id = store.Create("Midsummer")!.Value;
        sets.Add(id, [tracks[2], tracks[0], tracks[3]]);
        notes.SetRating(tracks[0], 5);
        notes.SetComment(tracks[0], "opens well\n");
        notes.SetFigures(tracks[0], 99.5, new MusicalKey(4, IsMinor: true), 4);
        notes.AddMarks(tracks[0], [(0.05, "brass"), (0.02, "")]);
        Assert.Equal(0, notes.AddMarks(tracks[0], [(0.0504, "again")]));
        var items = sets.View(id)!.Lines.Select(line => line.ItemId).ToList();

        long folder = folders.List()[0].Id;
        Assert.Null(folders.Remove(folder));
        var gone = sets.View(id)!;
        Assert.Equal(
            [("Track 3", true), ("Track 1", true), ("Track 4", true)], gone.Lines.Select(line => (line.Track.Title, line.Track.IsGone)));
        Assert.Equal(items, gone.Lines.Select(line => line.ItemId));
        // An order may still be changed, and taken back.
        sets.Reverse(id, new HashSet<long>());
        Assert.True(sets.Undo(id));
        Assert.Null(sets.Analyse(id));

        folders.Add(app.Music);
        await app.ScanAsync();
        await RunningApp.UntilAsync(() => sets.View(id)!.Lines.All(line => !line.Track.IsGone));
        var back = sets.View(id)!;
        Assert.Equal(items, back.Lines.Select(line => line.ItemId));
        var track = back.Lines[1].Track;
        Assert.Equal(
            ("Track 1", "5", "opens well", new TrackFigures(99.5, new MusicalKey(4, IsMinor: true), 4)),
            (track.Title, track.Rating, track.Own.Comment, track.Figures));
        Assert.Equal([(0.02, ""), (0.05, "brass")], notes.Marks(track.TrackId).Select(mark => (mark.Seconds, mark.Title)));
    }

    [Fact]
    public async Task Set_by_rule_follows_its_rule_and_can_be_made_manual()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var tracks = await AddTracksAsync(app, 5);
        var (store, sets, notes) = (app.Get<SetStore>(), app.Get<MusicSets>(), app.Get<TrackNotes>());
        long id = store.Create(
            "Loved",
            new SetRule
            {
                LeastRating = 4,
                LeastTempo = 120,
                MostTempo = 128,
                NearKey = "A minor",
                LeastEnergy = 2,
                Added = AddedWhen.ThisMonth,
                Sort = SetSort.Tempo,
                IsDescending = true
            },
            "Club/Summer")!.Value;
        IEnumerable<string> Titles() => sets.View(id)!.Lines.Select(line => line.Track.Title);
        Assert.Empty(Titles());
        var (near, far) = (new MusicalKey(4, IsMinor: true), new MusicalKey(3, IsMinor: true));
        foreach (var (track, tempo, key, energy, rating) in new (int, double, MusicalKey, int, int)[]
        {
            (0, 120, near, 2, 4), (1, 128, near, 5, 5), (2, 128.5, near, 3, 5), (3, 124, far, 3, 5), (4, 124, near, 1, 5)
        })
        {
            notes.SetFigures(tracks[track], tempo, key, energy);
            notes.SetRating(tracks[track], rating);
        }

        Assert.Equal(["Track 2", "Track 1"], Titles());
        notes.SetRating(tracks[1], 3);
        Assert.Equal(["Track 1"], Titles());
        // It takes no tracks by hand.
        sets.Add(id, [tracks[4]]);
        Assert.Equal(["Track 1"], Titles());

        long list = sets.MakeFixed(id)!.Value;
        notes.SetRating(tracks[0], 0);
        Assert.Empty(Titles());
        var made = sets.View(list)!;
        Assert.Equal(("Track 1", "Club/Summer"), (Assert.Single(made.Lines).Track.Title, made.Set.Folder));
        Assert.StartsWith("Loved, ", made.Set.Title, StringComparison.Ordinal);
        Assert.Null(sets.MakeFixed(list));

        store.ChangeRule(id, new SetRule { Words = "track 5" });
        Assert.Equal(["Track 5"], Titles());
        store.RenameFolder("club", "Nights");
        Assert.Equal(["Nights/Summer", "Nights/Summer"], store.List().Select(set => set.Folder));
        store.RenameFolder("Nights/Summer", "");
        Assert.Equal(["", ""], store.List().Select(set => set.Folder));
    }

    [Fact]
    public async Task New_music_is_analysed_in_the_background_when_enabled()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var (background, sets) = (app.Get<BackgroundMusic>(), app.Get<MusicSets>());
        Clicks(app, "First", 120, 0);
        await app.ScanAsync();
        Assert.False(background.IsWanted);
        Assert.Equal(1, background.CountLeft());
        background.IsWanted = true;
        await RunningApp.UntilAsync(() => background.CountLeft() == 0);
        Clicks(app, "Second", 123, 0);
        await app.ScanAsync();
        long id = app.Get<SetStore>().Create("All", new SetRule { LeastTempo = 122, MostTempo = 124 })!.Value;
        await RunningApp.UntilAsync(() => sets.View(id)!.Lines.Count == 1);
        Assert.Equal("Second", sets.View(id)!.Lines[0].Track.Title);
    }

    /// <summary>
    /// From figures to fields: comment by the scheme, chapters, the gain of a measured loudness. What is not known leaves tags alone.
    /// </summary>
    [Fact]
    public void Figures_become_fields()
    {
        var track = new SetTrack
        {
            Own = new() { Tempo = 126.004, Key = "B flat minor", Rating = 4, Energy = 3, Comment = "long ending" },
            Measured = new() { Loudness = -11.5, TruePeak = 0.98 },
            CodecName = "FLAC",
        };
        var held = new TagSet();
        held.Set(FieldNames.Comment, "Am, energy 5 | bought in June");
        var all = new SetTagChoice { Tempo = true, Key = true, Rating = true, Comment = true, Marks = true, Loudness = true };
        IEnumerable<(string, string)> Fields(SetTrack of, SetTagChoice choice) =>
            SetTags.Of(
                    of, [new TrackMark(1, 61.25, "brass"), new TrackMark(2, 90, "")], held, choice, new KeyNotation(KeySpelling.Flats, []),
                    new CommentScheme())
                .SelectMany(field => field.Values, (field, value) => (field.Name, value));
        Assert.Equal(
            [
                ("tempo", "126"), ("key", "Bbm"), ("rating", "4"), ("chapters", "00:01:01.250 brass"), ("chapters", "00:01:30.000"),
                ("replaygain_track_gain", "-6.50 dB"), ("replaygain_track_peak", "0.980000"), ("comment", "Bbm, energy 3 | long ending"),
            ],
            Fields(track, all));
        // RFC 7845, section 5.2.1: Q7.8 against -23 LUFS.
        Assert.Contains(("r128_track_gain", "-2944"), Fields(track with { CodecName = "Opus" }, all));
        Assert.Equal(
            [("comment", "energy 3 | bought in June")],
            Fields(new SetTrack { Own = new() { Energy = 3 } }, new SetTagChoice { Comment = true, Tempo = true, Loudness = true }));
    }

    private static long Take(List<long> from)
    {
        long first = from[0];
        from.RemoveAt(0);
        return first;
    }

    private static async Task<long[]> AddTracksAsync(RunningApp app, int count)
    {
        for (int number = 1; number <= count; number++)
            app.AddTrack(number, 0.1 * number);
        await app.ScanAsync();
        return [.. app.Get<LibraryQueries>().TracksOfAlbum(app.Get<LibraryQueries>().Albums()[0].Id).Select(track => track.Id)];
    }

    /// <summary>Twenty seconds of clicks, put into place whole: whatever reads an earlier file there goes on reading that.</summary>
    private static void Clicks(RunningApp app, string title, double tempo, double first)
    {
        var made = app.Folder["made.wav"];
        WriteClicks(made, title, tempo, first);
        File.Move(made, Path.Combine(app.Music, title + ".wav"), overwrite: true);
    }

    private static void WriteClicks(string path, string title, double tempo, double first)
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Title, title);
        tags.Set(FieldNames.Album, "Clicks");
        using var writer = new WavWriter(File.Create(path), Format, tail: [new TailChunk("id3 ", Id3v2Writer.Write(tags))]);
        double period = 60 / tempo * 44_100;
        new TestSound(Format, 20 * 44_100, (block, start) =>
        {
            for (int i = 0; i < block.FrameCount; i++)
            {
                double since = start + i - first * 44_100;
                double inBeat = since < 0 ? double.MaxValue : since % period;
                block.Integers[i] = (int)(20_000 * Math.Exp(-inBeat / 400) * Math.Sin(inBeat * 0.3));
            }
        }).CopyTo(writer);
    }
}
