using System.Diagnostics;
using System.Globalization;
using System.Net.Http.Headers;
using System.Text;
using System.Text.Json.Nodes;
using Wergamon.Testing;

namespace Wergamon.Bench;

/// <summary>The real server under load: response times while it scans and analyses, and the cost of a large upload.</summary>
internal sealed class ServerBench(string workFolder)
{
    private const int Files = 10_000;
    private const int PieceBytes = 8 * 1024 * 1024;
    private const long LargeBytes = 4L << 30;

    private static readonly string[] Pages = [
        "/library", "/library/tracks", "/library/tracks?words=lamps", "/library/tracks?sort=added&down=1", "/library/tracks/folders",
        "/library/folders", "/library/duplicates", "/intake/files"
    ];

    /// <summary>Plans alone.</summary>
    public Task PlansAsync() => ScannedAsync(PlanAsync);

    /// <summary>Sets alone.</summary>
    public Task SetsAsync() => ScannedAsync(SetAsync);

    private async Task ScannedAsync(Func<HttpClient, Task> measure)
    {
        using var server = Start();
        using var client = new HttpClient { BaseAddress = server.Address };
        while (!(await client.GetStringAsync(new Uri("/library/folders", UriKind.Relative))).Contains(
            Files.ToString("N0", CultureInfo.InvariantCulture), StringComparison.Ordinal))
            await Task.Delay(TimeSpan.FromSeconds(1));
        await measure(client);
    }

    private WebServer Start()
    {
        var tree = Path.Combine(workFolder, "served");
        MusicTree.Make(tree, Files);
        return new WebServer(Path.Combine(workFolder, "server"), tree, workFolder);
    }

    public async Task RunAsync()
    {
        using var server = Start();
        using var client = new HttpClient { BaseAddress = server.Address };
        await PagesWhileAsync(
            client, "scanning and hashing",
            text => !text.Contains("Scanning", StringComparison.Ordinal)
                && text.Contains(Files.ToString("N0", CultureInfo.InvariantCulture), StringComparison.Ordinal));
        await PagesWhileAsync(client, "hashing, the scan being done", _ => true);
        Console.WriteLine($"  memory of the server: {server.ResidentBytes / 1e6:0} MB, wanted below 350");
        await SheetAsync(client);
        await PlanAsync(client);
        await SetAsync(client);
        await CrowdAsync(server.Address);
        Console.WriteLine($"  memory of the server after the crowd: {server.ResidentBytes / 1e6:0} MB");
        await HandOverAsync(client, server);
    }

    /// <summary>2,000 files on a sheet: the page, and the pages of its tabs.</summary>
    private static async Task SheetAsync(HttpClient client)
    {
        const int SheetFiles = 2_000;
        var sheet = await MakeAsync(client, "/tags", SheetFiles);
        Console.WriteLine($"A sheet of {SheetFiles:N0} files, wanted below 300 ms:");
        foreach (var page in (string[])["", "/names", "/tidy", "/artwork", "/review"])
            await TimeAsync(client, page.Length == 0 ? "sheet" : page[1..], sheet + page);
    }

    /// <summary>A plan of 5,000 tracks: what is sent at first, and a part of its lines.</summary>
    private static async Task PlanAsync(HttpClient client)
    {
        const int Tracks = 5_000;
        var plan = await MakeAsync(client, "/convert", Tracks);
        Console.WriteLine($"A plan of {Tracks:N0} tracks, wanted below 300 ms and 400 KB:");
        await TimeAsync(client, "plan", plan);
        await TimeAsync(client, "100 of its lines", plan + "?handler=Lines&from=2500");
    }

    /// <summary>A set of 2,000 tracks: its page, and changes of its order with the page that shows them.</summary>
    private static async Task SetAsync(HttpClient client)
    {
        const int Tracks = 2_000;
        var set = await MakeAsync(client, "/sets", Tracks, "New");
        Console.WriteLine($"A set of {Tracks:N0} tracks, wanted below 100 ms:");
        await TimeAsync(client, "set", set);
        await TimeAsync(client, "100 of its rows", set + "?handler=Part&part=9");
        var token = (string)JsonNode.Parse(await client.GetStringAsync(new Uri("/uploads", UriKind.Relative)))!["token"]!;
        async Task PostAsync(string what, string handler, Dictionary<string, string> values) => await TimeAsync(what, async () =>
        {
            using var form = new FormUrlEncodedContent(new Dictionary<string, string>(values) { ["__RequestVerificationToken"] = token });
            using var answer = await client.PostAsync(new Uri($"{set}?handler={handler}", UriKind.Relative), form);
            return (await answer.EnsureSuccessStatusCode().Content.ReadAsStringAsync()).Length;
        });
        await PostAsync("a track to the end", "Move", new() { ["items"] = "1" });
        await PostAsync("a thousand tracks down", "Shift", new() { ["items"] = string.Join(',', Enumerable.Range(1, 1000)), ["by"] = "1" });
        await PostAsync("reversed", "Reverse", []);
        await PostAsync("sorted by title", "Sort", new() { ["sort"] = "Title", ["descending"] = "false" });
        await PostAsync("shuffled", "Shuffle", []);
        await PostAsync("taken back", "Undo", []);
    }

    /// <summary>Has the server make something of tracks; returns the address of its page.</summary>
    private static async Task<string> MakeAsync(HttpClient client, string station, int count, string handler = "Create")
    {
        var start = JsonNode.Parse(await client.GetStringAsync(new Uri("/uploads", UriKind.Relative)))!;
        using var form = new FormUrlEncodedContent(
            new Dictionary<string, string>
            {
                ["title"] = "bench",
                ["numbers"] = string.Join(',', Enumerable.Range(1, count)),
                ["__RequestVerificationToken"] = (string)start["token"]!
            });
        using var made = await client.PostAsync(new Uri($"{station}?handler={handler}", UriKind.Relative), form);
        return made.RequestMessage!.RequestUri!.AbsolutePath;
    }

    private static Task TimeAsync(HttpClient client, string what, string page) =>
        TimeAsync(what, async () => (await client.GetStringAsync(new Uri(page, UriKind.Relative))).Length);

    /// <param name="ask">Gives the length of the answer.</param>
    private static async Task TimeAsync(string what, Func<Task<int>> ask)
    {
        const int Rounds = 5;
        var times = new List<double>();
        int length = 0;
        for (int round = 0; round <= Rounds; round++)
        {
            var watch = Stopwatch.StartNew();
            length = await ask();
            times.Add(watch.Elapsed.TotalMilliseconds);
        }

        Console.WriteLine($"  {what}: {times.Order().ElementAt(Rounds / 2):0} ms, {length / 1000:N0} KB");
    }

    /// <summary>Many clients at once, each asking for one page after the other.</summary>
    private static async Task CrowdAsync(Uri address)
    {
        const int Clients = 200;
        using var limit = new CancellationTokenSource(TimeSpan.FromSeconds(10));
        var times = await Task.WhenAll(Enumerable.Range(0, Clients).Select(number => Task.Run(async () =>
        {
            using var client = new HttpClient { BaseAddress = address };
            var taken = new List<double>();
            for (int i = number; !limit.IsCancellationRequested; i++)
            {
                var start = Stopwatch.GetTimestamp();
                await client.GetStringAsync(new Uri(Pages[i % Pages.Length], UriKind.Relative));
                taken.Add(Stopwatch.GetElapsedTime(start).TotalMilliseconds);
            }

            return taken;
        })));
        var all = times.SelectMany(taken => taken).Order().ToList();
        Console.WriteLine(
            $"{Clients} pages at once for 10 s: {all.Count} answers, median {all[all.Count / 2]:0} ms, 95 of 100 below "
                + $"{all[(int)(0.95 * (all.Count - 1))]:0} ms, longest {all[^1]:0} ms");
    }

    /// <summary>Asks for all pages in turn until a condition on the page of folders holds, at least five rounds.</summary>
    private static async Task PagesWhileAsync(HttpClient client, string what, Func<string, bool> isOver)
    {
        const int MinRounds = 5;
        var times = Pages.ToDictionary(page => page, _ => new List<double>());
        var watch = Stopwatch.StartNew();
        for (int round = 0; ; round++)
        {
            bool over = false;
            foreach (var page in Pages)
            {
                var start = Stopwatch.GetTimestamp();
                var text = await client.GetStringAsync(new Uri(page, UriKind.Relative));
                // The first answers compile the pages.
                if (round > 0)
                    times[page].Add(Stopwatch.GetElapsedTime(start).TotalMilliseconds);
                if (page == "/library/folders")
                    over = isOver(text);
            }

            if (over && round >= MinRounds)
                break;
        }

        Console.WriteLine($"Pages while {what} ({watch.Elapsed.TotalSeconds:0} s), wanted below 150 ms:");
        foreach (var (page, taken) in times)
        {
            taken.Sort();
            Console.WriteLine(
                $"  {page}: median {taken[taken.Count / 2]:0} ms, 95 of 100 below {taken[(int)(0.95 * (taken.Count - 1))]:0} ms, longest "
                    + $"{taken[^1]:0} ms, {taken.Count} times");
        }
    }

    /// <summary>A file of 4 GB in pieces, as the page sends it.</summary>
    private static async Task HandOverAsync(HttpClient client, WebServer server)
    {
        var start = JsonNode.Parse(await client.GetStringAsync(new Uri("/uploads", UriKind.Relative)))!;
        client.DefaultRequestHeaders.Add("RequestVerificationToken", (string)start["token"]!);
        var offer = new JsonObject
        {
            ["folder"] = (long)start["folders"]![0]!["id"]!,
            ["files"] = new JsonArray(new JsonObject { ["path"] = "large.wav", ["bytes"] = LargeBytes, ["modifiedAt"] = 0 }),
        };
        using var content = new StringContent(offer.ToJsonString(), Encoding.UTF8, "application/json");
        using var answer = await client.PostAsync(new Uri("/uploads", UriKind.Relative), content);
        var id = (long)JsonNode.Parse(await answer.Content.ReadAsStringAsync())!["files"]![0]!["id"]!;
        var piece = new byte[PieceBytes];
        new Random(1).NextBytes(piece);
        long before = server.ResidentBytes, most = before;
        var watch = Stopwatch.StartNew();
        for (long at = 0; at < LargeBytes; at += PieceBytes)
        {
            using var bytes = new ByteArrayContent(piece);
            bytes.Headers.ContentType = new MediaTypeHeaderValue("application/octet-stream");
            using var sent = await client.PutAsync(new Uri($"/uploads/{id}?at={at}", UriKind.Relative), bytes);
            sent.EnsureSuccessStatusCode();
            most = Math.Max(most, server.ResidentBytes);
        }

        Console.WriteLine(
            $"{LargeBytes >> 30} GB handed over in {watch.Elapsed.TotalSeconds:0} s; the server's memory grew from {before / 1e6:0} to "
                + $"at most {most / 1e6:0} MB");
    }
}
