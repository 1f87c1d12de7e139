using System.Diagnostics;
using Dapper;
using Microsoft.Extensions.DependencyInjection;
using Microsoft.Extensions.Logging;
using Wergamon.App;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.App.Deliver.Files;
using Wergamon.App.Intake;
using Wergamon.App.Library.Scan;
using Wergamon.App.Sets;
using Wergamon.App.Storage;
using Wergamon.App.Tags;
using Wergamon.App.Tracks;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Registry;
using Wergamon.Testing.Outside;

namespace Wergamon.Bench;

/// <summary>Cost of lists with 50,000 tracks in the database.</summary>
internal sealed class LibraryBench(AppOptions options, string workFolder)
{
    private const int Files = 10_000;
    private const string MutagenReading =
        """
        import sys, time, mutagen
        files = sys.stdin.read().split('\n')
        def run():
            n = 0
            for f in files:
                m = mutagen.File(f)
                i = m.info
                n += len(str(i.length)) + i.sample_rate + i.channels + len([(k, m.tags[k]) for k in m.tags.keys()]
                    if hasattr(m.tags, 'keys') else list(m.tags))
                if hasattr(m, 'pictures'): n += len(m.pictures)
            return n
        start = time.perf_counter(); run(); print(time.perf_counter() - start)
        """;

    private const int Tracks = 50_000;
    private const int Rounds = 7;

    private static readonly string[] TagNames = ["comment", "genre", "composer", "tempo", "key"];

    /// <summary>A tree of tagged FLAC, MP3, M4A and Ogg files with covers, read by Core and by python3-mutagen, both warm.</summary>
    public async Task ScanAsync()
    {
        var tree = Path.Combine(workFolder, "tree");
        MusicTree.Make(tree, Files);
        var files = Directory.GetFiles(tree, "*", SearchOption.AllDirectories);
        var watch = new Stopwatch();
        double ours = double.MaxValue, theirs = double.MaxValue, taglib = double.MaxValue;
        // In turns, and the least of some rounds: the machine is quicker at one time than at another. A scan of a whole library is long
        // enough for the
        // runtime to have compiled everything.
        for (int round = 0; round < Rounds; round++)
        {
            ours = Math.Min(ours, Math.Min(Timed(() => ReadAll(files)), Timed(() => ReadAll(files))));
            theirs = Math.Min(theirs, ReadByMutagen(files));
            taglib = Math.Min(taglib, Timed(() => Parallel.ForEach(files, path => LibTag.ReadNumbers(path))));
        }

        foreach (var kind in files.GroupBy(Path.GetExtension))
        {
            double seconds = Timed(() => ReadAll([.. kind]));
            Console.WriteLine(
                $"  {kind.Key}: {seconds / kind.Count() * 1e6:0} µs a file, TagLib "
                    + $"{Timed(() => Parallel.ForEach(kind, path => LibTag.ReadNumbers(path))) / kind.Count() * 1e6:0} µs");
        }

        Console.WriteLine(
            $"Facts and tags of {files.Length:N0} files by TagLib on as many threads: {taglib:0.00} s, {taglib / ours:0.0} times as long "
                + "as here, wanted at least 2");
        Console.WriteLine(
            $"Facts and tags of {files.Length:N0} files: {ours:0.00} s on {Environment.ProcessorCount} cores, python3-mutagen "
                + $"{theirs:0.00} s: {theirs / ours:0.0} times faster, wanted at least 10");

        await using var services = new ServiceCollection().AddLogging(logging => logging.ClearProviders())
            .AddWergamon(options with { DataFolder = Path.Combine(workFolder, "scan"), AllowedBases = [workFolder] })
                .BuildServiceProvider();
        services.GetRequiredService<Database>()
            .Change(connection => connection.Execute("INSERT INTO folder (id, path, added_at) VALUES (1, @tree, 0)", new { tree }));
        var scan = services.GetRequiredService<FolderScan>();
        watch.Restart();
        await scan.RunAsync(1, tree, () => { }, CancellationToken.None);
        Console.WriteLine($"The whole scan into the database: {watch.Elapsed.TotalSeconds:0.0} s");
        watch.Restart();
        await scan.RunAsync(1, tree, () => { }, CancellationToken.None);
        Console.WriteLine($"Once more with nothing changed: {watch.Elapsed.TotalSeconds:0.00} s, wanted below 1");
    }

    private static void ReadAll(string[] files) => Parallel.ForEach(files, path =>
    {
        using var stream = File.OpenRead(path);
        if (FileReading.Read(stream) is { Facts: null } or { Tags.IsEmpty: true })
            throw new InvalidOperationException($"{path} was not read.");
    });

    private static double Timed(Action action)
    {
        var watch = Stopwatch.StartNew();
        action();
        return watch.Elapsed.TotalSeconds;
    }

    private static double ReadByMutagen(string[] files)
    {
        var start = new ProcessStartInfo("/usr/bin/python3", ["-c", MutagenReading])
        {
            RedirectStandardInput = true,
            RedirectStandardOutput = true
        };
        using var process = Process.Start(start)!;
        process.StandardInput.Write(string.Join('\n', files));
        process.StandardInput.Close();
        return double.Parse(process.StandardOutput.ReadToEnd(), System.Globalization.CultureInfo.InvariantCulture);
    }

    public void Lists()
    {
        using var services = new ServiceCollection().AddLogging(logging => logging.ClearProviders())
            .AddWergamon(options)
            .BuildServiceProvider();
        Fill(services.GetRequiredService<Database>());
        var watch = Stopwatch.StartNew();
        services.GetRequiredService<TrackLines>().Refresh();
        Console.WriteLine($"Lines of {Tracks:N0} tracks made in {watch.Elapsed.TotalSeconds:0.0} s");
        var list = services.GetRequiredService<TrackList>();
        var library = services.GetRequiredService<LibraryQueries>();
        var all = new TrackView("", [], null, null, TrackSort.Artist, false);
        foreach (var sort in Enum.GetValues<TrackSort>())
            Measure($"first page by {sort}", 100, () => list.Page(all with { Sort = sort }, 0, 100).Count);
        Measure("last page by Title", 100, () => list.Page(all with { Sort = TrackSort.Title }, Tracks - 100, 100).Count);
        // An extra slash is the same folder and another view, so that no cached count is used.
        int slashes = 0;
        TrackView Anew(TrackView view) => view with { Folder = "/music" + new string('/', slashes++) };
        Measure("counts of all marks and formats", 100, () => list.Count(Anew(all)).Tracks);
        Measure("list of albums", 100, () => library.Albums(0, 100).Count);
        Measure("folders", 100, () => list.FoldersBelow(null).Count);
        foreach (var words in (string[])["lamp", "l", "quarry 4711", "灯", "nothing at all"])
            Measure($"search \"{words}\"", 50, () => list.Page(all with { Words = words }, 0, 100).Count);
        Measure("counts with \"lamp\"", 100, () => list.Count(Anew(all with { Words = "lamp" })).Tracks);
        var untidy = services.GetRequiredService<UntidyFiles>();
        Measure("untidy files, last answer", 100, untidy.Count);
        watch.Restart();
        while (untidy.Count() == 0)
            Thread.Sleep(10);
        Console.WriteLine($"  untidy files found in the background in {watch.Elapsed.TotalSeconds:0.0} s: {untidy.Count()}");
        Sets(services);
        FrontPages(services);
        Backups(services);
        Console.WriteLine($"  memory of this process afterwards: {Process.GetCurrentProcess().WorkingSet64 / 1e6:0} MB, wanted below 350");
    }

    /// <summary>With waveforms and covers, of which such a database mostly consists.</summary>
    private static void Backups(ServiceProvider services)
    {
        const int Albums = Tracks / 10;
        services.GetRequiredService<Database>().Change(connection => connection.Execute(
            $"""
            WITH RECURSIVE n (i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < {Tracks})
            INSERT INTO analysis (copy_id, samples, peak, waveform) SELECT i, hex(randomblob(16)), 1, randomblob(2000) FROM n;
            WITH RECURSIVE n (i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < {Albums})
            INSERT INTO artwork (hash, mime_type, data) SELECT i, 'image/jpeg', randomblob(100000) FROM n
            """));
        var backups = services.GetRequiredService<DatabaseBackups>();
        var watch = Stopwatch.StartNew();
        var making = backups.MakeInBackground(DatabaseBackups.BeforeChange);
        Console.WriteLine($"  begin a backup before a large change: {watch.Elapsed.TotalMilliseconds:0.0} ms, wanted below 100");
        var made = making.GetAwaiter().GetResult();
        Console.WriteLine($"  the whole backup of {made.Bytes / 1e6:0} MB in the background: {watch.Elapsed.TotalSeconds:0.0} s");
    }

    /// <summary>Sets in a library of which all is analysed: a long one put in another order, what fits next, a rule.</summary>
    private static void Sets(ServiceProvider services)
    {
        const int Places = 2_000;
        services.GetRequiredService<Database>().Change(connection => connection.Execute(
            """
            INSERT INTO music (copy_id, tempo, first_beat, slowest, fastest, alternatives, musical_key, onsets, brightness, first_sound,
                last_sound)
            SELECT id, 60 + id * 7919 % 12000 / 100.0, 0.1, 100, 100, '[]', 'A minor', 1 + id % 5, 800 + id % 3000, 0, 100 FROM copy
                WHERE is_lossless
            """));
        var (store, sets) = (services.GetRequiredService<SetStore>(), services.GetRequiredService<MusicSets>());
        long id = store.Create("bench")!.Value;
        sets.Add(id, [.. Enumerable.Range(1, Places).Select(number => (long)number)]);
        var view = sets.View(id)!;
        var thousand = view.Lines.Take(Places / 2).Select(line => line.ItemId).ToHashSet();
        int Changed(Action<long> change)
        {
            change(id);
            return sets.View(id)!.Lines.Count;
        }

        Measure("a set of 2,000", 100, () => sets.View(id)!.Lines.Count);
        Measure("a thousand of its tracks moved", 100, () => Changed(set => sets.Shift(set, thousand, 1)));
        Measure("reversed", 100, () => Changed(set => sets.Reverse(set, new HashSet<long>())));
        bool isDescending = false;
        Measure(
            "sorted by title", 100, () => Changed(set => sets.Sort(set, new HashSet<long>(), SetSort.Title, isDescending = !isDescending)));
        Measure("shuffled", 100, () => Changed(set => sets.Shuffle(set, new HashSet<long>())));
        Measure("taken back", 100, () => Changed(set => sets.Undo(set)));
        Measure("what fits next", 100, () => sets.NextAfter(view, view.Lines[0]).Count);
        long standing = store.Create("by rule", new SetRule { LeastTempo = 120, MostTempo = 121, NearKey = "A minor" })!.Value;
        Measure("a standing set", 100, () => sets.View(standing)!.Lines.Count);
        var background = services.GetRequiredService<BackgroundMusic>();
        Measure("tracks that are not analysed", 100, background.CountLeft);
        long disc = services.GetRequiredService<AudioDiscs>().Create(null, [.. Enumerable.Range(1, 99).Select(number => (long)number)]);
        Measure("an audio disc of 99 tracks", 100, () => services.GetRequiredService<AudioDiscs>().View(disc)!.Lines.Count);
        long data = services.GetRequiredService<DataDiscs>().Create(null, [.. Enumerable.Range(1, Places).Select(number => (long)number)]);
        Measure("a data disc of 2,000 files", 300, () => services.GetRequiredService<DataDiscViews>().View(data)!.Files.Count);
        long joined = services.GetRequiredService<JoinedFiles>()
            .Create(null, [.. Enumerable.Range(1, Places).Select(number => (long)number)]);
        Measure("2,000 tracks to be joined", 300, () => services.GetRequiredService<JoinedFiles>().View(joined)!.Lines.Count);
    }

    /// <summary>What the first page of each station asks for, after <see cref="Sets"/>.</summary>
    private static void FrontPages(ServiceProvider services)
    {
        const int SetsShown = 50, Places = 40, Deliveries = 20;
        var (store, sets) = (services.GetRequiredService<SetStore>(), services.GetRequiredService<MusicSets>());
        for (int set = 0; set < SetsShown; set++)
            sets.Add(store.Create($"front {set}")!.Value, [.. Enumerable.Range(1 + Places * set, Places).Select(number => (long)number)]);
        var (albums, background) = (services.GetRequiredService<AlbumSearch>(), services.GetRequiredService<BackgroundMusic>());
        Measure("front page of Intake: what came in last", 50, () => services.GetRequiredService<RecentAlbums>().List(6).Count);
        Measure("front page of Convert: the latest albums", 50, () => albums.Find("", 5).Count);
        Measure("albums by their words", 50, () => albums.Find("lamp", 24).Count);
        Measure("front page of Sets: their courses", 50, () => sets.Overview().Count);
        Measure("front page of Sets: what is left to analyse", 50, () => background.CountLeft() + (background.TimeLeft() is null ? 0 : 1));
        Measure(
            "front page of Deliver: discs and files", 50,
            () => services.GetRequiredService<DeliveryOverviews>().List(Deliveries).Shown.Sum(each => each.Lengths.Count));
    }

    private static void Measure(string what, int wantedMilliseconds, Func<int> work)
    {
        int result = work();
        var times = new List<double>();
        for (int round = 0; round < Rounds; round++)
        {
            var watch = Stopwatch.StartNew();
            work();
            times.Add(watch.Elapsed.TotalMilliseconds);
        }

        Console.WriteLine(
            $"  {what}: {times.Order().ElementAt(Rounds / 2):0.0} ms (median), wanted below {wantedMilliseconds}; {result} rows");
    }

    /// <summary>Albums of ten tracks, a fifth of them with a second copy.</summary>
    private static void Fill(Database database) => database.Change(connection =>
    {
        const string Numbers = "WITH RECURSIVE n (i) AS (SELECT 1 UNION ALL SELECT i + 1 FROM n WHERE i < @count)";
        connection.Execute("INSERT INTO folder (id, path, added_at, scanned_at) VALUES (1, '/music', 0, 0)");
        connection.Execute(
            Numbers
                + " INSERT INTO album (id, identity, artist, title, year, genre, added_at) "
                + "SELECT i, 'album ' || i, 'The Quarry Lamps ' || (i % 700), CASE i % 3 WHEN 0 THEN 'Night Shift ' WHEN 1 THEN '灯火 ' "
                + "ELSE 'Änthracite ' END || i, 1960 + i % 60, 'Songs', i FROM n",
            new { count = Tracks / 10 });
        connection.Execute(
            Numbers
                + " INSERT INTO track (id, album_id, disc, number, title, artist, added_at) "
                + "SELECT i, (i - 1) / 10 + 1, 1, (i - 1) % 10 + 1, CASE i % 4 WHEN 0 THEN 'Lamp and Wick ' WHEN 1 THEN 'Tallow ' WHEN "
                + "2 THEN 'Adit ' ELSE 'Zeche ' END || (i * 7919 % 50021), 'The Quarry Lamps ' || ((i - 1) / 10 % 700), i FROM n",
            new { count = Tracks });
        const string Copies =
            """
             INSERT INTO copy (track_id, folder_id, path, file_format, codec_name, sample_rate, channels, channel_roles, bits, is_float,
                 frame_count, is_lossless, kilobits_per_second,
                fidelity, generation, file_bytes, modified_at, tags_total, tags_from_name, added_at)
            SELECT i, 1, '/music/' || ((i - 1) / 10 % 700) || '/' || ((i - 1) / 10) || '/' || i || @end, @kind, upper(@kind), 44100, 2, 3,
                @bits, @bits = 32, 44100 * (100 + i % 300), @bits = 16, 256, @bits = 32, @bits = 32,
                10000000 + i, i, 5, 0, i FROM n WHERE i % @each = 0
            """;
        connection.Execute(Numbers + Copies, new { count = Tracks, end = ".flac", kind = "flac", bits = 16, each = 1 });
        connection.Execute(Numbers + Copies, new { count = Tracks, end = ".mp3", kind = "mp3", bits = 32, each = 5 });
        foreach (var (position, name) in TagNames.Index())
        {
            connection.Execute(
                Numbers
                    + " INSERT INTO tag (copy_id, position, name, value, from_name) "
                    + "SELECT i, @position, @name, CASE @position WHEN 3 THEN 60 + i % 120 WHEN 4 THEN 'A minor' ELSE @name || ' of "
                    + "number ' || i END, 0 FROM n",
                new { count = Tracks, position, name });
        }
    });
}
