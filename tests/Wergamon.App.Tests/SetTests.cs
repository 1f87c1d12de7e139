using CsCheck;
using Wergamon.App.Library;
using Wergamon.App.Runs;
using Wergamon.App.Sets;
using Wergamon.App.Storage;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Music;
using Wergamon.Core.Playlists;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Testing;

namespace Wergamon.App.Tests;

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
                            var anchor = place is { } there ? model.SkipWhile(track => track != there.Track).Cast<long?>().FirstOrDefault(track => !chosen.Contains(track!.Value)) : null;
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
        Assert.Equal((2, 0), sets.Add(id, tracks));
        Assert.Equal((0, 2), sets.Add(id, tracks));
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
        await RunningApp.UntilAsync(() => sets.View(id)!.Lines[0].Track is { IsAnalysed: false, Tempo: null });
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
    public async Task Figures_of_ones_own_and_places_outlive_a_merge()
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
