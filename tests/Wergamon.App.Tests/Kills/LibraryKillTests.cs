using System.Globalization;
using System.Net;
using System.Net.Http.Headers;
using System.Net.Http.Json;
using System.Security.Cryptography;
using System.Text.Json.Nodes;
using Wergamon.App.Tests.Intake;
using Wergamon.Core.Tags;
using Wergamon.Testing;
using Wergamon.Testing.Outside;

namespace Wergamon.App.Tests.Kills;

/// <summary>The real server, killed while music comes in, is edited, goes to the trash and comes back.</summary>
public sealed class LibraryKillTests(ITestOutputHelper output) : KillTrial(output)
{
    [Fact]
    public async Task A_scan_survives_kills_of_the_server()
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
    public async Task A_rip_and_its_renaming_survive_kills_of_the_server()
    {
        var rack = new TestRack(Folder["rack"]);
        using var killed = NewServer(speedup: 30);
        await InsertAsync(killed);
        await killed.Session.PostAsync(
            "/intake/discs", "/intake/discs?handler=Read", ("drive", "A"), ("track", "1"), ("track", "2"), ("track", "3"));
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
            "/intake/discs?drive=A", "/intake/names?handler=Names", ("drive", "A"), ("names.Title", "Winter Words"),
            ("names.Artist", "Tin Orchard"), ("names.Disc", "1"), ("names.DiscTotal", "1"),
            ("trackTitle", "One"), ("trackTitle", "Two"), ("trackTitle", "Three"), ("trackArtist", ""), ("trackArtist", ""),
            ("trackArtist", ""));
        for (int kill = 0; kill < Kills; kill++)
            await killed.KillAsync(1, 60);
        await killed.UntilDoneAsync();
        killed.Dispose();
        killed.AssertTidy(Data);
        var made = KilledServer.FilesIn(Path.Combine(Data, "ripped"))
            .Where(path => path.EndsWith(".flac", StringComparison.Ordinal))
            .ToList();
        Assert.Equal(["01 One.flac", "02 Two.flac", "03 Three.flac"], made.Select(path => Path.GetFileName(path)));
        Assert.All(made, path => Assert.Equal("Winter Words", TagsOf(path).First(FieldNames.Album)));
        Assert.Equal([rack.Samples(1), rack.Samples(2), rack.Samples(3)], made.Select(path => LibFlac.Decode(path).Samples));
    }

    /// <summary>Half of the files are written in place, half anew: each is whole at the end, and undo gives the old bytes back.</summary>
    [Fact]
    public async Task Tags_that_are_written_and_undone_survive_kills_of_the_server()
    {
        const int Files = 80;
        int kills = Kills > 2 ? 2 * Kills : Kills;
        var sound = Sound(0.3);
        foreach (int number in Enumerable.Range(1, Files))
            File.WriteAllBytes(
                Path.Combine(Music, $"Night Shift {number:00}.{(number % 2 == 0 ? "wav" : "mp3")}"),
                number % 2 == 0 ? sound : [0xFF, 0xFB, 0x90, 0, .. new byte[413], 0xFF, 0xFB, 0x90, 0, .. new byte[413]]);
        var before = KilledServer.FilesIn(Music).Select(Sum).ToList();
        using var killed = NewServer();
        await killed.Session.UntilAsync("/library/tracks?handler=Total", $"{Files}");
        await killed.Session.UntilAsync("/library/folders", "All read");
        var ids = Enumerable.Range(1, Files).Select(id => id.ToString(CultureInfo.InvariantCulture)).ToList();
        await killed.Session.PostAsync("/library", "/tags?handler=Create", ("title", "Night Shift"), ("numbers", string.Join(',', ids)));
        await killed.Session.PostAsync(
            "/library", "/tags/1/tidy?handler=Take",
            [
                ("rule", "number"), ("First", "1"), ("WithTotals", "true"),
                .. ids.SelectMany(id => new[] { ("take", $"{id} track"), ("take", $"{id} track total") })
            ]);
        await killed.Session.PostAsync("/library", "/tags/1/review?handler=Write");
        for (int kill = 0; kill < kills; kill++)
            await killed.KillAsync(1, 120);
        await killed.UntilDoneAsync();
        Assert.Contains($"All {Files} files written", await killed.Session.GetAsync("/runs/1"), StringComparison.Ordinal);
        Assert.Equal(
            Enumerable.Range(1, Files).Select(number => number.ToString(CultureInfo.InvariantCulture)).Order(StringComparer.Ordinal),
            KilledServer.FilesIn(Music).Select(path => TagsOf(path).First(FieldNames.Track)!).Order(StringComparer.Ordinal));
        await killed.Session.PostAsync("/library", "/tags?handler=Undo", ("run", "1"));
        for (int kill = 0; kill < kills; kill++)
            await killed.KillAsync(1, 120);
        await killed.UntilDoneAsync();
        killed.Dispose();
        killed.AssertTidy(Music, Data);
        Assert.Equal(before, KilledServer.FilesIn(Music).Select(Sum));
    }

    [Fact]
    public async Task An_upload_survives_kills_of_the_server()
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
    public async Task Moves_to_the_trash_and_back_survive_kills_of_the_server(bool isOtherFileSystem)
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
        await AgainAndAgainAsync(
            killed, "/library/duplicates", "/library/duplicates?handler=Tidy&kind=SameName", "copy",
            () => [.. all.Skip(1).Where(id => killed.Ask<int>($"SELECT is_trashed FROM copy WHERE id = {id}") == 0)]);
        Assert.Equal([kept], KilledServer.FilesIn(music));
        var trashed = KilledServer.FilesIn(Path.Combine(Data, "trash"));
        Assert.Equal((Files - 1, 1), (trashed.Count, trashed.Select(Sum).Append(before[kept]).Distinct().Count()));

        await AgainAndAgainAsync(
            killed, "/library/trash", "/library/trash?handler=Back", "item", () => Rows(killed, "SELECT group_concat(id) FROM trash_item"));
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
        using var client = new HttpClient(
            new HttpClientHandler { CookieContainer = new CookieContainer() })
        { BaseAddress = address, Timeout = TimeSpan.FromSeconds(30) };
        var start = (await client.GetFromJsonAsync<JsonNode>("uploads"))!;
        client.DefaultRequestHeaders.Add("RequestVerificationToken", (string)start["token"]!);
        using var offer = await client.PostAsJsonAsync(
            "uploads",
            new { folder = (long)start["folders"]![0]!["id"]!, files = new[] { new { path = "Carts/01.wav", bytes = content.Length } } });
        var answer = JsonNode.Parse(await offer.Content.ReadAsStringAsync())!["files"]![0]!;
        if ((long?)answer["id"] is not { } id)
            return;
        for (long at = (long)answer["received"]!; at < content.Length;)
        {
            using var piece = new ByteArrayContent(content, (int)at, (int)Math.Min(pieceBytes, content.Length - at))
            {
                Headers = { ContentType = new MediaTypeHeaderValue("application/octet-stream") }
            };
            using var reply = await client.PutAsync($"uploads/{id}?at={at}", piece);
            if (reply.StatusCode != HttpStatusCode.OK)
                return;
            at = (long)JsonNode.Parse(await reply.Content.ReadAsStringAsync())!["received"]!;
        }
    }

    private static async Task InsertAsync(KilledServer killed)
    {
        await killed.Session.PostAsync("/intake/discs", "/intake/discs?handler=Insert", ("drive", "A"), ("disc", TestRack.Key));
        await killed.Session.UntilAsync("/intake/discs?drive=A", "Lamp Room");
    }
}
