using System.Globalization;
using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Security.Cryptography;
using System.Text.Json;
using System.Text.Json.Nodes;
using Wergamon.Core.Formats;
using Wergamon.Core.Sticks;
using Wergamon.Core.Tags;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Kills;

/// <summary>The real server, killed again and again: after each kill another one continues, and in the end everything is there once, complete, and nothing else is.</summary>
public sealed class KillTests(ITestOutputHelper output) : KillTrial(output)
{
    /// <summary>In the runs that are cut off.</summary>
    private static readonly int Tracks = Kills > 2 ? 60 : 10;

    [Fact]
    public async Task Conversions_outlive_kills_of_the_server()
    {
        var sums = MakeTracks(Tracks);
        using var killed = NewServer();
        await StartRunAsync(killed, Tracks);
        for (int kill = 0; kill < Kills; kill++)
            await killed.KillAsync(50, 1500);
        await killed.UntilDoneAsync();
        killed.Dispose();
        AssertConverted(killed, sums);
    }

    /// <summary>Each original goes to the trash once, and only when its copy is there with the same sound.</summary>
    [Fact]
    public async Task Originals_that_go_to_the_trash_outlive_kills_of_the_server()
    {
        var sums = MakeTracks(Tracks);
        var sounds = KilledServer.FilesIn(Music).Select(path => LibSndFile.Decode(path).Samples).ToList();
        using var killed = NewServer();
        await killed.Session.UntilAsync("/library/tracks?handler=Total", $"{Tracks}");
        var plan = await killed.Session.PostAsync("/library/tracks", "/convert?handler=Create", ("list", "?"));
        await killed.Session.PostAsync(plan, plan + "?handler=Target", ("target", "archive"));
        await killed.Session.PostAsync(plan, plan + "?handler=Settings", ("Originals", "TrashAfterProof"));
        Assert.Equal("/runs/1", await killed.Session.PostAsync(plan, plan + "?handler=Run"));
        for (int kill = 0; kill < Kills; kill++)
        {
            await killed.KillAsync(50, 1000);
            // An original is in its place or in the trash, at every moment.
            Assert.Equal(Tracks, KilledServer.FilesIn(Music).Concat(KilledServer.FilesIn(Path.Combine(Data, "trash"))).Count());
        }

        await killed.UntilDoneAsync();
        killed.Dispose();
        killed.AssertTidy(Music, Data);
        Assert.Empty(KilledServer.FilesIn(Music));
        Assert.Equal(sums.Order(), KilledServer.FilesIn(Path.Combine(Data, "trash")).Select(Sum).Order());
        Assert.Equal(Tracks, killed.Ask<int>("SELECT COUNT(*) FROM trash_item"));
        Assert.Equal(sounds, KilledServer.FilesIn(Path.Combine(Data, "converted")).Select(path => LibFlac.Decode(path).Samples));
        Assert.Equal(Tracks, killed.Ask<int>("SELECT COUNT(*) FROM copy WHERE NOT is_missing AND NOT is_trashed"));
    }

    /// <summary>A track whose worker is killed fails with its reason, and is made on Retry.</summary>
    [Fact]
    public async Task Conversions_outlive_kills_of_workers()
    {
        var sums = MakeTracks(Tracks);
        using var killed = NewServer();
        await StartRunAsync(killed, Tracks);
        for (int kill = 0; kill < 2 * Kills; kill++)
            await killed.KillWorkerAsync(50, 400);
        await killed.UntilDoneAsync(retries: true);
        killed.Dispose();
        AssertConverted(killed, sums);
    }

    /// <summary>A stick is filled, gets other tags in the order of writing, and other names, all of it cut off: in the end each file is there once, whole, in its turn, and nothing else is.</summary>
    [Fact]
    public async Task A_stick_outlives_kills_of_the_server()
    {
        const int Files = 8;
        MakeTracks(Files);
        var place = Directory.CreateDirectory(Path.Combine(Data, "media")).FullName;
        using var killed = NewServer();
        await killed.Session.UntilAsync("/library/tracks?handler=Total", $"{Files}");
        var here = await killed.Session.PostAsync("/deliver", "/deliver?handler=Stick", ("place", place), ("device", "mp3-player"));
        await killed.Session.PostAsync("/library/tracks", "/deliver?handler=Tracks&kind=Stick&stick=1", ("list", "?"));
        await UpdateAsync(1);
        var lengths = Made().Select(LibMpg123.CountFrames).Order().ToList();
        Assert.Equal(Files, lengths.Count);

        // Smaller artwork and another version of tags: all are tagged and placed anew.
        await killed.Session.PostAsync(here, "/deliver/devices/mp3-player?handler=Settings", ("tagVersion", "4"), ("maxKilobits", "320"));
        await UpdateAsync(2);
        // Other names.
        await killed.Session.PostAsync(here, "/deliver/devices/mp3-player?handler=Settings", ("tagVersion", "4"), ("maxKilobits", "320"), ("names", "{title} {track:000}"));
        await UpdateAsync(3);
        killed.Dispose();
        killed.AssertTidy(Music);
        var made = Made();
        Assert.Equal(lengths, made.Select(LibMpg123.CountFrames).Order());
        Assert.All(made, path => Assert.StartsWith(TagsOf(path).First(FieldNames.Title)!, Path.GetFileName(path), StringComparison.Ordinal));
        Assert.Equal(Files, killed.Ask<int>("SELECT COUNT(*) FROM stick_file"));
        Assert.Equal([Path.Combine(place, StickMark.FileName)], Directory.EnumerateFiles(place));
        Assert.DoesNotContain(KilledServer.FilesIn(Path.Combine(Data, "delivery-spool")), _ => true);

        async Task UpdateAsync(int run)
        {
            await killed.Session.PostAsync(here, here + "?handler=Update");
            for (int kill = 0; kill < Kills; kill++)
                await killed.KillAsync(20, 600);
            await killed.UntilDoneAsync();
            await killed.Session.UntilAsync(here, "Everything on the stick is up to date");
        }

        IReadOnlyList<string> Made() => [.. KilledServer.FilesIn(place).Where(path => Path.GetFileName(path) != StickMark.FileName)];
    }

    /// <summary>Every source takes the name of the next one, the last that of the first: tags are written and all files of the mirror change places.</summary>
    [Fact]
    public async Task A_mirror_outlives_kills_of_the_server()
    {
        const int Files = 10;
        MakeTracks(Files);
        using var killed = NewServer();
        await killed.Session.UntilAsync("/library/tracks?handler=Total", $"{Files}");
        var plan = await killed.Session.PostAsync("/library/tracks", "/convert?handler=Create", ("list", "?"));
        Assert.Equal("/convert/mirrors/1", await killed.Session.PostAsync(plan, plan + "?handler=Keep"));
        await killed.Session.PostAsync("/convert/mirrors/1", "/convert/mirrors/1?handler=Update");
        await killed.UntilDoneAsync();
        var before = Made().ToDictionary(path => path, LibMpg123.CountFrames);

        // A scan between two renames would take some names for changed sound.
        await killed.Session.PostAsync("/library/folders", "/library/folders?handler=Pause", ("id", "1"), ("pause", "true"));
        var names = KilledServer.FilesIn(Music);
        foreach (var path in names)
            File.Move(path, path + ".moving");
        for (int i = 0; i < Files; i++)
            File.Move(names[i] + ".moving", names[(i + 1) % Files]);
        await killed.Session.PostAsync("/library/folders", "/library/folders?handler=Pause", ("id", "1"), ("pause", "false"));
        await killed.Session.UntilAsync("/convert/mirrors/1", $"Tags changed <span class=\"digits\">{Files}<");
        await killed.Session.PostAsync("/convert/mirrors/1", "/convert/mirrors/1?handler=Update");
        for (int kill = 0; kill < Kills; kill++)
            await killed.KillAsync(1, 150);
        await killed.UntilDoneAsync();
        await killed.Session.UntilAsync("/convert/mirrors/1", $"All {Files} files are up to date");
        killed.Dispose();
        killed.AssertTidy(Music, Data);
        var made = Made();
        Assert.Equal(before.Keys, made);
        Assert.Equal(made.Select((_, i) => before[made[(i + Files - 1) % Files]]), made.Select(LibMpg123.CountFrames));
        Assert.All(made, path => Assert.Equal(Path.GetFileNameWithoutExtension(path), TagsOf(path).First(FieldNames.Title)));
        Assert.Empty(KilledServer.FilesIn(Path.Combine(Data, "trash")));

        IReadOnlyList<string> Made() => KilledServer.FilesIn(Path.Combine(Data, "converted"));
    }

    [Fact]
    public async Task A_scan_outlives_kills_of_the_server()
    {
        const int Files = 400;
        var sound = Sound(0.02);
        for (int number = 1; number <= Files; number++)
            File.WriteAllBytes(Path.Combine(Music, $"Tin Orchard - Carts - {number:000} Cart {number}.wav"), sound);
        using var killed = NewServer();
        for (int kill = 0; kill < Kills; kill++)
            await killed.KillAsync(5, 300);
        await killed.Session.UntilAsync("/library/tracks?handler=Total", "400");
        await killed.Session.UntilAsync("/library/folders", "All read");
        killed.Dispose();
        killed.AssertTidy(Music, Data);
        Assert.Equal(Files, killed.Ask<int>("SELECT COUNT(DISTINCT path) FROM copy WHERE NOT is_missing"));
        Assert.Equal((Files, 1), (killed.Ask<int>("SELECT COUNT(*) FROM copy"), killed.Ask<int>("SELECT COUNT(*) FROM album")));
    }

    /// <summary>A rip, then renaming its files.</summary>
    [Fact]
    public async Task A_rip_and_its_renaming_outlive_kills_of_the_server()
    {
        var rack = new TestRack(Folder["rack"]);
        using var killed = NewServer(speedup: 30);
        await InsertAsync(killed);
        await killed.Session.PostAsync("/intake", "/intake?handler=Read", ("drive", "A"), ("track", "1"), ("track", "2"), ("track", "3"));
        for (int kill = 0; kill < Kills; kill++)
        {
            await killed.KillAsync(20, 700);
            if (KilledServer.IsOfWorkers)
                continue;
            // After a restart the drive is empty.
            await InsertAsync(killed);
            await killed.Session.PostAsync("/intake", "/runs/1?handler=Continue");
        }

        await killed.UntilDoneAsync();
        await killed.Session.PostAsync(
            "/intake?drive=A", "/intake/names?handler=Names", ("drive", "A"), ("names.Title", "Winter Words"), ("names.Artist", "Tin Orchard"), ("names.Disc", "1"), ("names.DiscTotal", "1"),
            ("trackTitle", "One"), ("trackTitle", "Two"), ("trackTitle", "Three"), ("trackArtist", ""), ("trackArtist", ""), ("trackArtist", ""));
        for (int kill = 0; kill < Kills; kill++)
            await killed.KillAsync(1, 60);
        await killed.UntilDoneAsync();
        killed.Dispose();
        killed.AssertTidy(Data);
        var made = KilledServer.FilesIn(Path.Combine(Data, "ripped")).Where(path => path.EndsWith(".flac", StringComparison.Ordinal)).ToList();
        Assert.Equal(["01 One.flac", "02 Two.flac", "03 Three.flac"], made.Select(path => Path.GetFileName(path)));
        Assert.All(made, path => Assert.Equal("Winter Words", TagsOf(path).First(FieldNames.Album)));
        Assert.Equal([rack.Samples(1), rack.Samples(2), rack.Samples(3)], made.Select(path => LibFlac.Decode(path).Samples));
    }

    /// <summary>Half of the files are written in place, half anew: each is whole at the end, and undo gives the old bytes back.</summary>
    [Fact]
    public async Task Tags_that_are_written_and_undone_outlive_kills_of_the_server()
    {
        const int Files = 80;
        int kills = Kills > 2 ? 2 * Kills : Kills;
        var sound = Sound(0.3);
        foreach (int number in Enumerable.Range(1, Files))
            File.WriteAllBytes(Path.Combine(Music, $"Night Shift {number:00}.{(number % 2 == 0 ? "wav" : "mp3")}"), number % 2 == 0 ? sound : [0xFF, 0xFB, 0x90, 0, .. new byte[413], 0xFF, 0xFB, 0x90, 0, .. new byte[413]]);
        var before = KilledServer.FilesIn(Music).Select(Sum).ToList();
        using var killed = NewServer();
        await killed.Session.UntilAsync("/library/tracks?handler=Total", $"{Files}");
        await killed.Session.UntilAsync("/library/folders", "All read");
        var ids = Enumerable.Range(1, Files).Select(id => id.ToString(CultureInfo.InvariantCulture)).ToList();
        await killed.Session.PostAsync("/library", "/tags?handler=Create", ("title", "Night Shift"), ("numbers", string.Join(',', ids)));
        await killed.Session.PostAsync("/library", "/tags/1/tidy?handler=Take", [("rule", "number"), ("First", "1"), ("WithTotals", "true"), .. ids.SelectMany(id => new[] { ("take", $"{id} track"), ("take", $"{id} track total") })]);
        await killed.Session.PostAsync("/library", "/tags/1/review?handler=Write");
        for (int kill = 0; kill < kills; kill++)
            await killed.KillAsync(1, 120);
        await killed.UntilDoneAsync();
        Assert.Contains($"All {Files} files written", await killed.Session.GetAsync("/runs/1"), StringComparison.Ordinal);
        Assert.Equal(Enumerable.Range(1, Files).Select(number => number.ToString(CultureInfo.InvariantCulture)).Order(StringComparer.Ordinal), KilledServer.FilesIn(Music).Select(path => TagsOf(path).First(FieldNames.Track)!).Order(StringComparer.Ordinal));
        await killed.Session.PostAsync("/library", "/tags?handler=Undo", ("run", "1"));
        for (int kill = 0; kill < kills; kill++)
            await killed.KillAsync(1, 120);
        await killed.UntilDoneAsync();
        killed.Dispose();
        killed.AssertTidy(Music, Data);
        Assert.Equal(before, KilledServer.FilesIn(Music).Select(Sum));
    }

    [Fact]
    public async Task An_upload_outlives_kills_of_the_server()
    {
        const int Bytes = 6_000_000, PieceBytes = 64 * 1024;
        var content = RandomNumberGenerator.GetBytes(Bytes);
        var final = Path.Combine(Music, "Carts", "01.wav");
        using var killed = NewServer();
        int kills = 0;
        var killing = Task.Run(async () =>
        {
            for (; kills < Kills; kills++)
            {
                await killed.KillAsync(50, 500);
                Assert.True(!File.Exists(final) || new FileInfo(final).Length == Bytes);
            }
        });
        // As a page does: after each failure it asks where to resume.
        while (!File.Exists(final) || kills < Kills)
        {
            try
            {
                if (!File.Exists(final))
                    await UploadAsync(killed.Server.Address, content, PieceBytes);
                await Task.Delay(20);
            }
            catch (Exception failure) when (KilledServer.IsCutOff(failure))
            {
                // The server was killed; the next one is starting.
            }
        }

        await killing;
        Assert.Equal(content, await File.ReadAllBytesAsync(final));
        killed.Dispose();
        killed.AssertTidy(Music, Data);
        Assert.Equal([final], KilledServer.FilesIn(Music));
    }

    /// <param name="isOtherFileSystem">True for music on another file system than the trash.</param>
    [Theory]
    [InlineData(false)]
    [InlineData(true)]
    public async Task Moves_to_the_trash_and_back_outlive_kills_of_the_server(bool isOtherFileSystem)
    {
        const int Files = 10;
        using var memory = isOtherFileSystem ? new TemporaryFolder("/dev/shm") : null;
        var music = isOtherFileSystem ? Directory.CreateDirectory(memory!["music"]).FullName : Music;
        var sound = Sound(20);
        for (int number = 1; number <= Files; number++)
        {
            Directory.CreateDirectory(Path.Combine(music, $"Box {number:00}"));
            await File.WriteAllBytesAsync(Path.Combine(music, $"Box {number:00}", "Tin Orchard - Carts - 01 Cart.wav"), sound);
        }

        var before = KilledServer.FilesIn(music).ToDictionary(path => path, Sum);
        using var killed = new KilledServer(Output, Data, () => new WebServer(Data, music, memory?.Path ?? Folder.Path));
        await killed.Session.UntilAsync("/library/folders", "All read");
        var all = Enumerable.Range(1, Files).Select(id => id.ToString(CultureInfo.InvariantCulture)).ToList();

        var kept = before.Keys.First(path => killed.Ask<long>($"SELECT id FROM copy WHERE path = '{path}'") == 1);
        await AgainAndAgainAsync(killed, "/library/duplicates", "/library/duplicates?handler=Tidy&kind=SameName", "copy", () => [.. all.Skip(1).Where(id => killed.Ask<int>($"SELECT is_trashed FROM copy WHERE id = {id}") == 0)]);
        Assert.Equal([kept], KilledServer.FilesIn(music));
        var trashed = KilledServer.FilesIn(Path.Combine(Data, "trash"));
        Assert.Equal((Files - 1, 1), (trashed.Count, trashed.Select(Sum).Append(before[kept]).Distinct().Count()));

        await AgainAndAgainAsync(killed, "/library/trash", "/library/trash?handler=Back", "item", () => Rows(killed, "SELECT group_concat(id) FROM trash_item"));
        killed.Dispose();
        Assert.Equal(before, KilledServer.FilesIn(music).ToDictionary(path => path, Sum));
        Assert.Empty(KilledServer.FilesIn(Path.Combine(Data, "trash")));
        killed.AssertTidy(music, Data);
    }

    private static string[] Rows(KilledServer killed, string sql) => killed.Ask<string>(sql)?.Split(',') ?? [];

    /// <summary>Repeats the request until nothing is left to do; the server is killed during the first ones.</summary>
    private static async Task AgainAndAgainAsync(KilledServer killed, string page, string action, string name, Func<string[]> left)
    {
        for (int kill = 0; left() is { Length: > 0 } ids; kill++)
        {
            var asking = killed.TryPostAsync(page, action, [.. ids.Select(id => (name, id))]);
            if (kill < Kills)
                await killed.KillAsync(1, 250);
            await asking;
        }
    }

    private static async Task UploadAsync(Uri address, byte[] content, int pieceBytes)
    {
        using var client = new HttpClient(new HttpClientHandler { CookieContainer = new CookieContainer() }) { BaseAddress = address, Timeout = TimeSpan.FromSeconds(30) };
        var start = (await client.GetFromJsonAsync<JsonNode>("uploads"))!;
        client.DefaultRequestHeaders.Add("RequestVerificationToken", (string)start["token"]!);
        using var offer = await client.PostAsJsonAsync("uploads", new { folder = (long)start["folders"]![0]!["id"]!, files = new[] { new { path = "Carts/01.wav", bytes = content.Length } } });
        var answer = JsonNode.Parse(await offer.Content.ReadAsStringAsync())!["files"]![0]!;
        if ((long?)answer["id"] is not { } id)
            return;
        for (long at = (long)answer["received"]!; at < content.Length;)
        {
            using var piece = new ByteArrayContent(content, (int)at, (int)Math.Min(pieceBytes, content.Length - at)) { Headers = { ContentType = new MediaTypeHeaderValue("application/octet-stream") } };
            using var reply = await client.PutAsync($"uploads/{id}?at={at}", piece);
            if (reply.StatusCode != HttpStatusCode.OK)
                return;
            at = (long)JsonNode.Parse(await reply.Content.ReadAsStringAsync())!["received"]!;
        }
    }

    private static async Task InsertAsync(KilledServer killed)
    {
        await killed.Session.PostAsync("/intake", "/intake?handler=Insert", ("drive", "A"), ("disc", TestRack.Key));
        await killed.Session.UntilAsync("/intake?drive=A", "Lamp Room");
    }

    private static async Task StartRunAsync(KilledServer killed, int tracks)
    {
        await killed.Session.UntilAsync("/library/tracks?handler=Total", tracks.ToString(CultureInfo.InvariantCulture));
        var ids = JsonSerializer.Deserialize<long[]>(await killed.Session.GetAsync($"/library/tracks?handler=Ids&offset=0&count={tracks}"))!;
        var plan = await killed.Session.PostAsync("/library/tracks", "/convert?handler=Create", ("numbers", string.Join(',', ids)));
        Assert.Equal("/runs/1", await killed.Session.PostAsync(plan, plan + "?handler=Run"));
    }

    private void AssertConverted(KilledServer killed, IReadOnlyList<string> sums)
    {
        killed.AssertTidy(Music, Data);
        Assert.Equal(sums, KilledServer.FilesIn(Music).Select(Sum));
        var made = KilledServer.FilesIn(Path.Combine(Data, "converted"));
        Assert.Equal(sums.Count, made.Count);
        foreach (var (path, number) in made.Zip(Enumerable.Range(1, sums.Count)))
        {
            using var stream = File.OpenRead(path);
            Assert.Empty(FileReading.Read(stream).Damage);
            Assert.Equal(FramesOf(number), LibMpg123.CountFrames(path));
        }

        Assert.Equal(sums.Count, killed.Ask<int>("SELECT COUNT(*) FROM run_item WHERE state = 'done'"));
        Assert.Equal(2 * sums.Count, killed.Ask<int>("SELECT COUNT(*) FROM copy WHERE NOT is_missing"));
    }

    private static long FramesOf(int number) => (5 + number) * 44_100L;
}
