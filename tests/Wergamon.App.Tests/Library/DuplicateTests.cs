using System.Text.Json.Nodes;
using Wergamon.App.Library.Comparing;
using Wergamon.App.Library.Listening;
using Wergamon.App.Library.Matching;
using Wergamon.App.Library.Removing;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Steps;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Matching;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.App.Tests.Library;

/// <summary>Files are joined to tracks and separated, duplicates are trashed and restored.</summary>
public sealed class DuplicateTests
{
    private static readonly PcmFormat Format = new(SampleRate.AudioDisc, 2, 16);

    [Fact]
    public async Task Files_are_joined_by_samples_or_names_and_stay_apart_once_separated()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        Write(app, "a/1.flac", "flac", "flac", seed: 1, "Powder Monkey", "Songs", 1);
        Write(app, "b/same.m4a", "mp4", "alac", seed: 1, title: null);
        Write(app, "a/1.mp3", "mp3", "libmp3lame", seed: 1, "POWDER MONKEY", "Songs", 1);
        Write(app, "a/2.flac", "flac", "flac", seed: 2, "Cage", "Songs", 2);
        Write(app, "other/1.flac", "flac", "flac", seed: 1, "Powder Monkey", "Best of", 7);
        await AnalyseAsync(app);

        var library = app.Get<LibraryQueries>();
        var matcher = app.Get<TrackMatcher>();
        var track = Track(app, "a/1.flac");
        Assert.Equal(["1.flac", "1.mp3", "same.m4a"], Names(track));
        Assert.Equal("Songs", track.AlbumTitle);
        Assert.Equal(["Powder Monkey"], library.TracksOfAlbum(Track(app, "other/1.flac").AlbumId).Select(each => each.Title));
        var reasons = matcher.Of(track.Id).ToDictionary(row => row.CopyId, row => row.Rule);
        var mp3 = Copy(app, "a/1.mp3");
        Assert.Equal(("names", "samples"), (reasons[mp3.Id], reasons[Copy(app, "b/same.m4a").Id]));
        // Every joined copy says by which rule; only the file that started the track does not.
        Assert.Equal([Copy(app, "a/1.flac").Id], track.Copies.Select(copy => copy.Id).Where(id => !reasons.ContainsKey(id)));

        long own = matcher.Separate(mp3.Id)!.Value;
        Assert.Equal(["1.mp3"], Names(library.TracksById([own])[0]));
        Assert.Equal("POWDER MONKEY", library.TracksById([own])[0].Title);
        // Nothing joins it again: not a rescan, not a new time stamp, not another analysis.
        File.SetLastWriteTimeUtc(mp3.Path, new DateTime(2020, 1, 1, 0, 0, 0, DateTimeKind.Utc));
        await app.ScanAsync();
        await AnalyseAsync(app);
        Assert.Equal(own, Copy(app, "a/1.mp3").TrackId);
        Assert.Null(matcher.Separate(mp3.Id));
        var flac = Assert.Single(matcher.TakenFrom(mp3.Id));
        Assert.EndsWith("a/1.flac", flac.Path, StringComparison.Ordinal);
        Assert.Null(matcher.Rejoin(mp3.Id, Copy(app, "a/2.flac").Id));
        // What was separated in the meantime stays separate, and can be chosen.
        var alac = Copy(app, "b/same.m4a");
        matcher.Separate(alac.Id);
        Assert.Equal([flac.Id, alac.Id], matcher.TakenFrom(mp3.Id).Select(copy => copy.Id));
        Assert.Equal(track.Id, matcher.Rejoin(mp3.Id, flac.Id));
        Assert.Equal(["1.flac", "1.mp3"], Names(Track(app, "a/1.flac")));
        Assert.Equal(track.Id, matcher.Rejoin(alac.Id, flac.Id));
        Assert.Equal(["1.flac", "1.mp3", "same.m4a"], Names(Track(app, "a/1.flac")));
    }

    [Fact]
    public async Task A_file_whose_music_was_replaced_leaves_the_track_it_was_joined_to()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        Write(app, "1.flac", "flac", "flac", seed: 1, "Cage", "Songs", 1);
        Write(app, "1.mp3", "mp3", "libmp3lame", seed: 1, "Cage", "Songs", 1);
        await AnalyseAsync(app);
        Assert.Equal(Track(app, "1.flac").Id, Track(app, "1.mp3").Id);
        Write(app, "1.mp3", "mp3", "libmp3lame", seed: 5, "Cage", "Songs", 1, seconds: 9);
        await app.ScanAsync();
        await AnalyseAsync(app);
        Assert.NotEqual(Track(app, "1.flac").Id, Track(app, "1.mp3").Id);
        Assert.Contains(
            app.Get<LibraryQueries>().HistoryOf(Track(app, "1.mp3").Id),
            happened => happened.Words.StartsWith("file changed outside", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Files_joined_for_equal_samples_part_when_one_is_replaced_by_as_much_other_music()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        Write(app, "1.flac", "flac", "flac", seed: 1, "Cage", "Songs", 1);
        Write(app, "b/copy.m4a", "mp4", "alac", seed: 1, title: null);
        Write(app, "c/other.m4a", "mp4", "alac", seed: 1, title: null);
        await AnalyseAsync(app);
        Assert.Equal(["1.flac", "copy.m4a", "other.m4a"], Names(Track(app, "1.flac")));
        Write(app, "b/copy.m4a", "mp4", "alac", seed: 2, title: null);
        await app.ScanAsync();
        await AnalyseAsync(app);
        // Whichever of them had been joined through it stays, for its own samples.
        Assert.Equal(["1.flac", "other.m4a"], Names(Track(app, "1.flac")));
        Assert.Equal("samples", Assert.Single(app.Get<TrackMatcher>().Of(Track(app, "1.flac").Id)).Rule);
        Assert.Equal(["copy.m4a"], Names(Track(app, "b/copy.m4a")));
        Assert.Contains(
            app.Get<LibraryQueries>().HistoryOf(Track(app, "b/copy.m4a").Id),
            happened => happened.Words.EndsWith("no longer equal", StringComparison.Ordinal));
    }

    [Fact]
    public async Task Duplicates_are_found_trashed_and_restored_with_everything_attached()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        Write(app, "a/1.flac", "flac", "flac", seed: 1, "Cage", "Songs", 1);
        var wav = Write(app, "b/1.wav", "wav", "pcm_s16le", seed: 1, title: null);
        Write(app, "c/2.mp3", "mp3", "libmp3lame", seed: 2, "Rain", "Songs", 2, options: ("b", "192000"));
        Write(app, "d/2.mp3", "mp3", "libmp3lame", seed: 2, "Rain", "Songs", 2, options: ("b", "96000"));
        Write(app, "e/3.flac", "flac", "flac", seed: 3, "Hooter", "Songs", 3, seconds: 4);
        Write(app, "f/3.flac", "flac", "flac", seed: 4, "Hooter", "Songs", 3, seconds: 4);
        await AnalyseAsync(app);

        var duplicates = app.Get<Duplicates>();
        Assert.Equal(
            [(DuplicateKind.SameSound, 1), (DuplicateKind.SeveralLossy, 1), (DuplicateKind.SameName, 1)],
            duplicates.Count().Select(count => (count.Kind, count.Groups)));
        var same = Assert.Single(duplicates.List(DuplicateKind.SameSound, 0, 10));
        Assert.Equal([("1.flac", false), ("1.wav", true)], same.Lines.Select(line => (Path.GetFileName(line.Copy.Path), line.Advice.Goes)));
        var lossy = Assert.Single(duplicates.List(DuplicateKind.SeveralLossy, 0, 10));
        Assert.Equal([true], lossy.Lines.Where(line => line.Copy.Sound.KilobitsPerSecond < 100).Select(line => line.Advice.Goes));
        await RunningApp.UntilAsync(() => Assert.Single(duplicates.List(DuplicateKind.SameName, 0, 10)).Lines[1].Difference is not null);
        Assert.StartsWith(
            "Not the same recording", duplicates.List(DuplicateKind.SameName, 0, 10)[0].Lines[1].Difference, StringComparison.Ordinal);

        // A track cannot lose all its copies: the request is refused as a whole.
        var all = same.Lines.Select(line => line.Copy.Id).ToList();
        Assert.Contains("No file of “Cage”", Assert.Single(duplicates.Tidy(all).Refusals), StringComparison.Ordinal);
        Assert.True(File.Exists(wav));

        var before = Copy(app, "b/1.wav");
        var tags = app.Get<LibraryQueries>().TagsOf(before.Id);
        Assert.Equal(
            (1, before.FileBytes, 0),
            duplicates.Tidy([before.Id]) is var result ? (result.Taken, result.Bytes, result.Refusals.Count) : default);
        Assert.False(File.Exists(wav));
        Assert.Equal(["1.flac"], Names(Track(app, "a/1.flac")));
        Assert.Equal(0, duplicates.Count()[0].Groups);
        await app.ScanAsync();
        var item = Assert.Single(app.Get<Trash>().List());
        Assert.Equal((wav, before.Id), (item.Path, item.CopyId));

        Assert.Null(app.Get<Trash>().PutBack(item.Id));
        await app.ScanAsync();
        Assert.Equal(before, Copy(app, "b/1.wav"));
        Assert.Equal(
            tags.Fields.Select(field => (field.Name, string.Join('|', field.Values))),
            app.Get<LibraryQueries>().TagsOf(before.Id).Fields.Select(field => (field.Name, string.Join('|', field.Values))));
        Assert.Empty(app.Get<Trash>().List());
        await RunningApp.UntilAsync(() => duplicates.Count()[0].Groups == 1);
    }

    [Fact]
    public async Task A_version_of_another_length_does_not_stand_for_a_track_whose_files_would_all_go()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        Write(app, "long/1.flac", "flac", "flac", seed: 1, "Cage", "Songs", 1, seconds: 9);
        Write(app, "short/1.flac", "flac", "flac", seed: 2, "Cage", "Songs", 1, seconds: 4);
        Write(app, "other/1.flac", "flac", "flac", seed: 3, "Cage", "Songs", 1, seconds: 5);
        await AnalyseAsync(app);
        var duplicates = app.Get<Duplicates>();
        Assert.Contains("No file of “Cage”", duplicates.Refusal([Copy(app, "long/1.flac").Id]), StringComparison.Ordinal);
        // One second apart, the other two may be one recording: the person may keep either, but not neither.
        Assert.Null(duplicates.Refusal([Copy(app, "short/1.flac").Id]));
        Assert.NotNull(duplicates.Refusal([Copy(app, "short/1.flac").Id, Copy(app, "other/1.flac").Id]));
    }

    [Fact]
    public async Task Restored_copy_keeps_its_lineage_and_avoids_taken_names()
    {
        await using var app = new RunningApp();
        Write(app, "Tin Orchard - Songs (2019)/01 Cage.wav", "wav", "pcm_s16le", seed: 1, title: null);
        await app.StartAsync();
        await app.ScanAsync();
        await app.EndAsync(app.Run(app.Plan(StandardTargets.BuiltIn[0].Key)));
        var track = Assert.Single(app.Get<LibraryQueries>().TracksOfAlbum(Assert.Single(app.Get<LibraryQueries>().Albums()).Id));
        var made = track.Copies.Single(copy => copy.Sound.FileFormat == "flac");
        var lineage = Assert.Single(app.Get<LibraryQueries>().LineageOf(track.Id));
        // A copy made from another does not become the master copy, though it has tags that the source lacks.
        Assert.Equal("wav", track.Master.Sound.FileFormat);
        Assert.Null(app.Get<Trash>().Take(made, "for the test"));
        File.WriteAllText(made.Path, "somebody else's");
        var item = Assert.Single(app.Get<Trash>().List());

        // Killed between moving the file and recording it: the next start finds out.
        await app.StopAsync();
        await app.StartAsync();
        Assert.Equal(item, Assert.Single(app.Get<Trash>().List()) with { AgeMs = item.AgeMs });
        Assert.Null(app.Get<Trash>().PutBack(item.Id));
        var back = app.Get<LibraryQueries>().Copy(made.Id)!;
        Assert.Equal((false, true), (back.IsMissing, File.Exists(back.Path)));
        Assert.NotEqual(made.Path, back.Path);
        Assert.Equal("somebody else's", File.ReadAllText(made.Path));
        Assert.Equal(lineage, Assert.Single(app.Get<LibraryQueries>().LineageOf(track.Id)));
    }

    [Fact]
    public async Task The_trash_is_emptied_after_thirty_days_and_a_clock_set_ahead_removes_nothing()
    {
        var time = new ManualTime();
        await using var app = new RunningApp(time: time);
        app.AddTrack(1, 1);
        await app.StartAsync();
        await app.ScanAsync();
        var copy = app.Get<LibraryQueries>().TracksOfAlbum(app.Get<LibraryQueries>().Albums()[0].Id)[0].Master;
        var trash = app.Get<Trash>();
        Assert.Null(trash.Take(copy, "for the test"));
        void Live(int hours)
        {
            for (; hours > 0; hours--)
            {
                time.Advance(TimeSpan.FromHours(1));
                trash.EmptyByAge();
            }
        }

        Live(29 * 24);
        time.SetClockAhead(TimeSpan.FromDays(40));
        Live(2);
        var item = Assert.Single(trash.List());
        Assert.True(File.Exists(item.Place));
        Live(24);
        Assert.Empty(trash.List());
        Assert.False(File.Exists(item.Place));
        Assert.Null(app.Get<LibraryQueries>().Copy(copy.Id));
        Assert.Empty(app.Get<LibraryQueries>().Albums());
    }

    /// <summary>A server that stops during an analysis does not hold it against the file.</summary>
    [Fact]
    public async Task A_file_is_not_blamed_for_the_end_of_the_server()
    {
        await using var app = new RunningApp();
        // Hours of silence in a sparse file, which take longer to analyse than this test runs.
        const long Frames = 500_000_000;
        using (var file = File.Create(Path.Combine(app.Music, "long.wav")))
        {
            WavWriter.WriteHead(file, Format, Frames);
            file.SetLength(file.Position + Frames * Format.BytesPerFrame);
        }

        await app.StartAsync();
        await app.ScanAsync();
        await app.StopAsync();
        await app.StartAsync();
        Assert.Null(Copy(app, "long.wav").Sound.Damage);
        Assert.Equal(1, app.Get<BackgroundAnalysis>().CountLeft());
    }

    /// <summary>Nominal 24 bits of which 16 are used do not beat 16 bits at a higher rate.</summary>
    [Fact]
    public async Task The_master_copy_is_the_one_with_the_most_real_detail()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var narrow = new PcmFormat(SampleRate.AudioDisc, 2, 24);
        var sixteen = TestSound.Noise(Format, 88_200);
        WriteWav("padded.wav", new WideningReader(sixteen, narrow.Bits));
        WriteWav("wide.wav", TestSound.Noise(new PcmFormat(new SampleRate(48_000), 2, 16), 96_000));
        await AnalyseAsync(app);
        Assert.Equal(["padded.wav", "wide.wav"], Names(Track(app, "wide.wav")));
        Assert.Equal("wide.wav", Path.GetFileName(Track(app, "wide.wav").Master.Path));
        Assert.Equal((16, 24), (Copy(app, "padded.wav").RealBits, Copy(app, "padded.wav").Sound.Bits));

        void WriteWav(string name, IPcmReader sound)
        {
            var tags = new TagSet();
            tags.Set(FieldNames.Title, "Cage");
            tags.Set(FieldNames.Artist, "Tin Orchard");
            using var writer = new WavWriter(
                File.Create(Path.Combine(app.Music, name)), sound.Format, tail: [new TailChunk("id3 ", Id3v2Writer.Write(tags))]);
            sound.CopyTo(writer);
        }
    }

    /// <summary>Files of one album with and without its year, in one scan: the album takes the year.</summary>
    [Fact]
    public async Task Files_of_one_album_may_differ_in_its_tags()
    {
        await using var app = new RunningApp();
        for (int number = 1; number <= 12; number++)
        {
            var path = Write(app, $"{number}.flac", "flac", "flac", seed: number, $"Track {number}", "Songs", number, seconds: 0.2);
            if (number == 12)
                Mutagen.Write(
                    path,
                    new JsonObject
                    {
                        ["fields"] = new JsonObject { ["date"] = new JsonArray("2019"), ["genre"] = new JsonArray("Songs") }
                    });
        }

        await app.StartAsync();
        await app.ScanAsync();
        var album = Assert.Single(app.Get<LibraryQueries>().Albums());
        Assert.Equal(("2019", "Songs", 12), (album.Year, album.Genre, album.Tracks));
    }

    private static async Task AnalyseAsync(RunningApp app)
    {
        await app.ScanAsync();
        await RunningApp.UntilAsync(() => app.Get<BackgroundAnalysis>() is { IsUnderWay: false } analysis && analysis.CountLeft() == 0);
        app.Get<TrackMatcher>().Refresh();
    }

    private static CopyRow Copy(RunningApp app, string name)
    {
        var path = Path.Combine(app.Music, name);
        return app.Get<LibraryQueries>()
            .Albums()
            .SelectMany(album => app.Get<LibraryQueries>().TracksOfAlbum(album.Id))
            .SelectMany(track => track.Copies)
            .Single(copy => copy.Path == path);
    }

    private static TrackRow Track(RunningApp app, string name) => app.Get<LibraryQueries>().TracksById([Copy(app, name).TrackId])[0];

    private static IEnumerable<string> Names(TrackRow track) =>
        track.Copies.Select(copy => Path.GetFileName(copy.Path)).Order(StringComparer.Ordinal);

    private static string Write(
        RunningApp app, string name, string container, string codec, int seed, string? title, string? album = null, int? number = null,
        double seconds = 3, (string Name, string Value)? options = null)
    {
        var path = Path.Combine(app.Music, name);
        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        var noise = TestSound.Noise(Format, (long)(seconds * 44_100), seed);
        EncodedFile.Write(path, container, codec, noise, options is { } option ? [option] : []);
        if (title is not null)
            Tag(path, title, album!, number!.Value);
        return path;
    }

    private static void Tag(string path, string title, string album, int number)
    {
        (string Name, string Frame, string Value)[] tags =
            [
                ("title", "TIT2", title), ("artist", "TPE1", "Tin Orchard"), ("albumartist", "TPE2", "Tin Orchard"),
                ("album", "TALB", album), ("tracknumber", "TRCK", $"{number}")
            ];
        var what = path.EndsWith(".mp3", StringComparison.Ordinal)
            ? new JsonObject
            {
                ["version"] = 4,
                ["encoding"] = 3,
                ["frames"] = new JsonArray([.. tags.Select(tag => new JsonArray(tag.Frame, "", new JsonArray(tag.Value)))])
            }
            : new JsonObject
            {
                ["fields"] = new JsonObject(tags.Select(tag => KeyValuePair.Create(tag.Name, (JsonNode?)new JsonArray(tag.Value))))
            };
        Mutagen.Write(path, what);
    }
}
