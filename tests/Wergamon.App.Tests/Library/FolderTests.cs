using System.Text;
using Dapper;
using Wergamon.App.Files;
using Wergamon.App.Library.Listening;
using Wergamon.App.Library.Removing;
using Wergamon.App.Library.Scan;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Library;

/// <summary>Music folders: what is found, what has moved, what is gone.</summary>
public sealed class FolderTests
{
    /// <summary>Names that file systems allow and programs trip over; the last two are one name in two Unicode forms.</summary>
    private static readonly string[] OddNames =
    [
        "line\nbreak", "tab\there", "🕯 lamp", "قنديل", "灯火", "-dash", " space ", "100% 'quoted' \"twice\"", "a\\b", "x?*<>|",
        new string('é', 125), new string('l', 251),
        "Grube é".Normalize(NormalizationForm.FormC), "Grube é".Normalize(NormalizationForm.FormD),
    ];

    /// <summary>
    /// Random trees and random changes to them, between scans. After each scan the library holds exactly the files that exist;
    /// a moved or renamed file is still the same copy, and a missing one keeps its details.
    /// </summary>
    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    public async Task Scans_follow_whatever_happens_to_a_tree(int seed)
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var random = new Random(seed);
        // The content of each file, by the number in its title.
        var files = new Dictionary<string, int>();
        var copies = new Dictionary<int, long>();
        // A file changed and moved between two scans is a new one, and one that took the path of another is that other: not combined here.
        var touched = new HashSet<string>();
        var deleted = new HashSet<string>();
        int made = 0;
        foreach (var name in OddNames)
            Make(Path.Combine(app.Music, name + ".wav"));
        for (int round = 0; round < 6; round++)
        {
            await app.ScanAsync();
            var found = Found(app);
            Assert.Equal(
                files.OrderBy(file => file.Key, StringComparer.Ordinal),
                found.Where(copy => !copy.IsMissing)
                    .Select(copy => KeyValuePair.Create(copy.Path, copy.Content))
                    .OrderBy(file => file.Key, StringComparer.Ordinal));
            foreach (var copy in found.Where(copy => !copy.IsMissing))
            {
                Assert.Equal(copies.GetValueOrDefault(copy.Content, copy.Id), copy.Id);
                copies[copy.Content] = copy.Id;
            }

            Assert.Equal(
                copies.Keys.Except(files.Values).Order(), found.Where(copy => copy.IsMissing).Select(copy => copy.Content).Order());
            await app.ScanAsync();
            Assert.Equal(found, Found(app));
            touched.Clear();
            for (int change = 0; change < 8; change++)
                Change();
        }

        void Make(string path)
        {
            Directory.CreateDirectory(Path.GetDirectoryName(path)!);
            Write(path, ++made);
            // Whole seconds apart, so that no two files share size and time by chance.
            File.SetLastWriteTimeUtc(path, DateTime.UnixEpoch.AddDays(10_000).AddSeconds(made));
            files[path] = made;
        }

        void Change()
        {
            var path = files.Keys.Except(touched).Order(StringComparer.Ordinal).ElementAt(random.Next(files.Count - touched.Count));
            var free = Path.Combine(
                app.Music, $"shelf {random.Next(4)}", $"{OddNames[random.Next(OddNames.Length - 4)]} {random.Next(1000)}.wav");
            bool isFree = !files.ContainsKey(free) && !deleted.Contains(free);
            switch (random.Next(6))
            {
                case 0 when isFree:
                    Make(free);
                    touched.Add(free);
                    break;
                case 1 or 2 when isFree:
                    Directory.CreateDirectory(Path.GetDirectoryName(free)!);
                    File.Move(path, free);
                    files[free] = files[path];
                    files.Remove(path);
                    touched.Add(free);
                    break;
                case 3:
                    File.SetLastWriteTimeUtc(path, File.GetLastWriteTimeUtc(path).AddDays(1));
                    touched.Add(path);
                    break;
                case 4 when files.Count > 5:
                    File.Delete(path);
                    files.Remove(path);
                    deleted.Add(path);
                    break;
                case 5 when files.Keys.Except(touched).FirstOrDefault(other => other != path) is { } other:
                    File.Move(path, app.Folder["aside"]);
                    File.Move(other, path);
                    File.Move(app.Folder["aside"], other);
                    (files[path], files[other]) = (files[other], files[path]);
                    touched.UnionWith([path, other]);
                    break;
            }
        }
    }

    /// <summary>
    /// Size and time are the same for all of these files, as for tracks that a program has written in one go or copied with their times.
    /// </summary>
    [Fact]
    public async Task Files_of_equal_size_and_time_are_distinguished_by_inode()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        string PathOf(string name) => Path.Combine(app.Music, name + ".wav");
        void Make(string path, int content)
        {
            Write(path, content);
            File.SetLastWriteTimeUtc(path, DateTime.UnixEpoch.AddDays(10_000));
        }

        foreach (var (name, content) in new[] { ("a", 1), ("b", 2), ("c", 3) })
            Make(PathOf(name), content);
        await app.ScanAsync();
        var ids = Found(app).ToDictionary(copy => copy.Content, copy => copy.Id);
        var waveform = await WaveformOf(3);

        // Two swap names, and a third is replaced by one of its size and time.
        File.Move(PathOf("a"), app.Folder["aside"]);
        File.Move(PathOf("b"), PathOf("a"));
        File.Move(app.Folder["aside"], PathOf("b"));
        Write(app.Folder["new"], 4, TestSound.Noise(DiscFormat, 441));
        File.SetLastWriteTimeUtc(app.Folder["new"], DateTime.UnixEpoch.AddDays(10_000));
        File.Move(app.Folder["new"], PathOf("c"), overwrite: true);
        await app.ScanAsync();

        Assert.Equal(
            [(ids[1], PathOf("b"), 1, false), (ids[2], PathOf("a"), 2, false), (ids[3], PathOf("c"), 4, false)],
            Found(app));
        var library = app.Get<LibraryQueries>();
        Assert.Equal(["file changed outside: track"], library.HistoryOf(TrackOf(4).Id).Select(happened => happened.Words));
        Assert.NotEqual(waveform, await WaveformOf(4));

        // A file that goes to the trash and back across disks gets a new inode, and is the same file.
        var trash = app.Get<Trash>();
        Assert.Null(trash.Take(TrackOf(1).Master, "for the test"));
        var place = trash.List().Single().Place;
        File.Copy(place, app.Folder["copied"]);
        File.SetLastWriteTimeUtc(app.Folder["copied"], File.GetLastWriteTimeUtc(place));
        File.Move(app.Folder["copied"], place, overwrite: true);
        Assert.Null(trash.PutBack(trash.List().Single().Id));
        await app.ScanAsync();
        Assert.DoesNotContain(
            library.HistoryOf(TrackOf(1).Id), happened => happened.Words.StartsWith("file changed", StringComparison.Ordinal));

        TrackRow TrackOf(int number) =>
            app.Get<LibraryQueries>()
                .Albums()
                .SelectMany(album => app.Get<LibraryQueries>().TracksOfAlbum(album.Id))
                .Single(track => track.Number == number);
        Task<byte[]?> WaveformOf(int number) => app.Get<BackgroundAnalysis>().WaveformAsync(TrackOf(number).Master, CancellationToken.None);
    }

    /// <summary>Not every file system has stable inodes, and older records have none.</summary>
    [Fact]
    public void Moves_are_found_without_inodes_and_a_replaced_file_is_not_a_move()
    {
        var (none, first, second) = (new FileStamp(10, 20, 0), new FileStamp(10, 20, 7), new FileStamp(10, 20, 8));
        Dictionary<long, string> Find((long, string, FileStamp)[] known, params (string Path, FileStamp Stamp)[] present) =>
            FileMoves.Find(known, present.ToDictionary(file => file.Path, file => file.Stamp));

        Assert.Equal([KeyValuePair.Create(1L, "/new/a")], Find([(1, "/a", none)], ("/new/a", first)));
        Assert.Equal([KeyValuePair.Create(1L, "/new/a")], Find([(1, "/a", first)], ("/new/a", second)));
        Assert.Empty(Find([(1, "/a", first)], ("/a", second)));
        Assert.Empty(Find([(1, "/a", none)], ("/a", second)));
        Assert.Empty(Find([(1, "/a", none), (2, "/b", none)], ("/c", first), ("/d", second)));
        Assert.Equal(
            [KeyValuePair.Create(1L, "/d"), KeyValuePair.Create(2L, "/c")],
            Find([(1, "/a", second), (2, "/b", first)], ("/c", first), ("/d", second)).OrderBy(move => move.Key));
        Assert.Equal(
            [KeyValuePair.Create(1L, "/x/a"), KeyValuePair.Create(2L, "/x/b")],
            Find([(1, "/a", none), (2, "/b", none)], ("/x/b", first), ("/x/a", second)).OrderBy(move => move.Key));
    }

    [Fact]
    public async Task Changes_in_a_folder_are_noticed_without_asking_unless_it_is_paused()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var first = app.AddTrack(1, 0.1);
        await app.ScanAsync();
        var folders = app.Get<MusicFolders>();
        app.AddTrack(2, 0.1);
        await RunningApp.UntilAsync(() => app.Get<LibraryQueries>().CountTracks() == 2);
        File.Delete(first);
        await RunningApp.UntilAsync(() => folders.List()[0].Missing == 1);

        folders.SetPaused(folders.List()[0].Id, true);
        app.AddTrack(3, 0.1);
        folders.Rescan(folders.List()[0].Id);
        await RunningApp.UntilAsync(() => !folders.List()[0].IsScanning);
        Assert.Equal((2, true), (app.Get<LibraryQueries>().CountTracks(), folders.List()[0].IsPaused));
        folders.SetPaused(folders.List()[0].Id, false);
        await RunningApp.UntilAsync(() => app.Get<LibraryQueries>().CountTracks() == 3);

        // Refused while a scan runs.
        await RunningApp.UntilAsync(() => folders.ForgetMissing(folders.List()[0].Id) is null);
        Assert.Equal((2, 0), (app.Get<LibraryQueries>().CountTracks(), folders.List()[0].Missing));
    }

    [Fact]
    public async Task A_removed_folder_takes_its_music_out_of_the_library_and_leaves_files_and_records_alone()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var path = app.AddTrack(1, 0.1);
        app.AddTrack(2, 0.1);
        await app.ScanAsync();
        long run = app.Run(app.Plan("archive"));
        await app.EndAsync(run);
        var folders = app.Get<MusicFolders>();
        await RunningApp.UntilAsync(() => folders.List().All(folder => !folder.IsScanning));
        await RunningApp.UntilAsync(() => folders.Remove(folders.List()[0].Id) is null);
        Assert.Empty(folders.List());
        Assert.True(File.Exists(path));
        // The copies that the run made are not from that folder.
        Assert.All(Found(app), copy => Assert.StartsWith(app.Output, copy.Path, StringComparison.Ordinal));
        Assert.Equal(2, (await app.EndAsync(run)).Count);
        Assert.Equal(2, app.Get<LibraryQueries>().CountTracks());
    }

    private static List<(long Id, string Path, int Content, bool IsMissing)> Found(RunningApp app)
    {
        var library = app.Get<LibraryQueries>();
        return [.. library.Albums()
            .SelectMany(album => library.TracksOfAlbum(album.Id))
            .SelectMany(track => track.Copies, (track, copy) => (copy.Id, copy.Path, track.Number ?? 0, copy.IsMissing))
            .OrderBy(copy => copy.Id)];
    }

    private static readonly PcmFormat DiscFormat = new(SampleRate.AudioDisc, 2, 16);

    private static void Write(string path, int number, IPcmReader? sound = null)
    {
        var tags = new TagSet();
        tags.Set(FieldNames.Title, "Lamp");
        tags.Set(FieldNames.Album, "Night Shift");
        tags.Set(FieldNames.Track, number.ToString(System.Globalization.CultureInfo.InvariantCulture));
        using var writer = new WavWriter(File.Create(path), DiscFormat, tail: [new TailChunk("id3 ", Id3v2Writer.Write(tags))]);
        (sound ?? TestSound.Music(DiscFormat, 441)).CopyTo(writer);
    }

    /// <summary>
    /// A scan reads files, then records them in groups. What happens to a file in between must not leave a record for its old path.
    /// </summary>
    [Theory]
    [InlineData("known file renamed", 1)]
    [InlineData("new file renamed", 1)]
    [InlineData("new file deleted", 0)]
    [InlineData("unreadable file deleted", 0)]
    [InlineData("folder deleted", 0)]
    public async Task Nothing_is_recorded_for_a_path_that_is_gone_when_the_scan_records_it(string change, int copies)
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var (from, to) = (Path.Combine(app.Music, "Reel", "old.wav"), Path.Combine(app.Music, "Lamp.wav"));
        Directory.CreateDirectory(Path.GetDirectoryName(from)!);
        File.Move(app.AddTrack(1, 1), from);
        await app.ScanAsync();
        if (change == "unreadable file deleted")
            File.WriteAllText(from, "not sound");
        var read = await app.Get<FileScanner>().ScanAsync(from, CancellationToken.None);
        long folder = Assert.Single(app.Get<MusicFolders>().List()).Id;
        app.Get<Database>().Change(connection =>
        {
            if (change == "known file renamed")
                connection.Execute("UPDATE copy SET path = @to", new { to });
            else
                LibraryWriter.ForgetCopies(connection, "TRUE", new { });
        });
        switch (change)
        {
            case "known file renamed":
                File.Move(from, to);
                break;
            case "new file renamed":
                File.Move(from, to);
                app.Get<FolderScan>().Save(folder, [await app.Get<FileScanner>().ScanAsync(to, CancellationToken.None)]);
                break;
            case "folder deleted":
                Directory.Delete(Path.GetDirectoryName(from)!, recursive: true);
                break;
            default:
                File.Delete(from);
                break;
        }

        app.Get<FolderScan>().Save(folder, [read]);

        using var connection = app.Get<Database>().Open();
        Assert.Equal(Enumerable.Repeat(to, copies), connection.Query<string>("SELECT path FROM copy"));
        Assert.Empty(connection.Query<string>("SELECT path FROM unreadable_file"));
    }

    /// <summary>A run may have written the tags of a file whose copies all went into the trash meanwhile.</summary>
    [Fact]
    public async Task Written_tags_of_a_track_in_the_trash_are_recorded()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        var path = app.AddTrack(1, 1);
        await app.ScanAsync();
        var written = await app.Get<FileScanner>().ScanAsync(path, CancellationToken.None);
        written.Tags.Set(FieldNames.Title, "Lamp");
        var copy = Assert.Single(app.Get<LibraryQueries>().TracksOfAlbum(1)).Master;
        Assert.Null(app.Get<Trash>().Take(copy, "for the test"));
        app.Get<Database>().Change(connection => app.Get<LibraryWriter>().SaveEdited(connection, copy.Id, written));
        Assert.Equal("Lamp", app.Get<LibraryQueries>().TagsOf(copy.Id).First(FieldNames.Title));
    }
}
