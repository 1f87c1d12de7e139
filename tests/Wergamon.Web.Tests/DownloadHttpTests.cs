using System.IO.Compression;
using System.Net;
using System.Net.Http.Headers;
using Wergamon.App.Copies;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;

namespace Wergamon.Web.Tests;

/// <summary>Copies over HTTP: whole, in ranges (RFC 9110, section 14), and many as one zip.</summary>
public sealed class DownloadHttpTests
{
    [Theory]
    [InlineData("bytes=0-9", 0, 10)]
    [InlineData("bytes=100-", 100, -100)]
    [InlineData("bytes=-7", -7, 7)]
    [InlineData("bytes=5-9999999", 5, -5)]
    public async Task A_range_of_a_copy_is_that_range(string range, int from, int length)
    {
        await using var server = await InProcessServer.StartAsync();
        var bytes = await File.ReadAllBytesAsync(server.AddFile("Carts/01 Cart.wav", 3000));
        await server.ScanAsync();
        long copy = FirstCopy(server);
        foreach (var address in new[] { $"copies/{copy}/file", $"copies/{copy}/play" })
        {
            using var request = new HttpRequestMessage(HttpMethod.Get, address) { Headers = { Range = RangeHeaderValue.Parse(range) } };
            using var reply = await server.Client.SendAsync(request);
            int start = from < 0 ? bytes.Length + from : from;
            Assert.Equal(HttpStatusCode.PartialContent, reply.StatusCode);
            Assert.Equal(bytes.Skip(start).Take(length < 0 ? bytes.Length + length : length), await reply.Content.ReadAsByteArrayAsync());
        }
    }

    [Fact]
    public async Task Range_beyond_the_end_and_missing_copy_are_refused()
    {
        await using var server = await InProcessServer.StartAsync();
        var path = server.AddFile("Carts/01 Cart.wav", 3000);
        await server.ScanAsync();
        long copy = FirstCopy(server);
        using var request = new HttpRequestMessage(HttpMethod.Get, $"copies/{copy}/file")
        {
            Headers = { Range = new RangeHeaderValue(9_999_999, null) }
        };
        Assert.Equal(HttpStatusCode.RequestedRangeNotSatisfiable, (await server.Client.SendAsync(request)).StatusCode);
        Assert.Equal(HttpStatusCode.NotFound, (await server.Client.GetAsync("copies/999/file")).StatusCode);
        // The file is now a link that leads out.
        File.Delete(path);
        File.CreateSymbolicLink(path, "/etc/hostname");
        Assert.Equal(HttpStatusCode.NotFound, (await server.Client.GetAsync($"copies/{copy}/file")).StatusCode);
    }

    [Fact]
    public async Task A_report_says_what_a_run_did_as_text_and_as_json()
    {
        await using var server = await InProcessServer.StartAsync();
        server.AddFile("Tin Orchard - Carts (2020)/01 Cart 1.wav", 3000);
        var gone = server.AddFile("Tin Orchard - Carts (2020)/02 Cart 2.wav", 3000);
        await server.ScanAsync();
        File.Delete(gone);
        long run = await server.ConvertAsync("archive");
        var text = await server.Client.GetStringAsync(new Uri($"runs/{run}/report.txt", UriKind.Relative));
        Assert.Contains("   1. Cart 1: Proved\n      every sample equal", text, StringComparison.Ordinal);
        Assert.Contains("   2. Cart 2: Failed\n", text, StringComparison.Ordinal);
        Assert.Contains("Nothing was written; the original is unchanged.", text, StringComparison.Ordinal);
        var report = System.Text.Json.Nodes.JsonNode.Parse(
            await server.Client.GetStringAsync(new Uri($"runs/{run}/report.json", UriKind.Relative)))!;
        var made = CopyResult.Of(server.Get<RunStore>().Items(run)[0])!;
        Assert.Equal(
            (1, 1, made.Proof.Bytes, 2),
            ((int)report["done"]!, (int)report["failed"]!, (long)report["bytesAfter"]!, report["items"]!.AsArray().Count));
        Assert.Equal(HttpStatusCode.NotFound, (await server.Client.GetAsync("runs/999/report.json")).StatusCode);
    }

    [Fact]
    public async Task A_zip_holds_the_files_of_a_run_in_the_order_of_the_tracks()
    {
        await using var server = await InProcessServer.StartAsync();
        for (int track = 1; track <= 3; track++)
            server.AddFile($"Tin Orchard - Carts (2020)/{track:00} Cart {track}.wav", 1000 * track);
        await server.ScanAsync();
        long run = await server.ConvertAsync("archive");
        using var zip = new ZipArchive(await server.Client.GetStreamAsync($"runs/{run}/zip"));
        var made = server.Get<RunStore>().Items(run).Select(item => CopyResult.Of(item)!.Path).ToList();
        Assert.Equal(3, made.Count);
        Assert.Equal(made.Select(path => Path.GetFileName(path)), zip.Entries.Select(entry => entry.Name));
        foreach (var (path, entry) in made.Zip(zip.Entries))
        {
            using var content = new MemoryStream();
            await using (var packed = entry.Open())
                await packed.CopyToAsync(content);
            Assert.Equal(await File.ReadAllBytesAsync(path), content.ToArray());
        }

        Assert.Equal(HttpStatusCode.NotFound, (await server.Client.GetAsync("runs/999/zip")).StatusCode);
    }

    /// <summary>Picked tracks as they are: in the order picked, with names that every system takes, and a playlist of them.</summary>
    [Fact]
    public async Task Picked_tracks_come_as_a_zip_in_their_order()
    {
        await using var server = await InProcessServer.StartAsync();
        var paths = new[] { "01 Why Dig", "02 Cart", "03 Cart" }.Select(
            (name, i) => server.AddFile($"Tin Orchard - Carts (2020)/{name}.wav", 1000 * (i + 1))).ToList();
        await server.ScanAsync();
        var tracks = server.Get<LibraryQueries>().TracksOfAlbum(server.Get<LibraryQueries>().Albums()[0].Id);
        using var reply = await server.PostAsync(
            "library/tracks", "deliver?handler=Download", ("numbers", $"{tracks[2].Id},{tracks[0].Id}"));
        Assert.Equal(
            ("application/zip", "Carts.zip"),
            (reply.Content.Headers.ContentType!.MediaType, reply.Content.Headers.ContentDisposition!.FileNameStar));
        using var zip = new ZipArchive(await reply.Content.ReadAsStreamAsync());
        Assert.Equal(
            ["01 Tin Orchard - Cart.wav", "02 Tin Orchard - Why Dig.wav", "Carts.m3u8"], zip.Entries.Select(entry => entry.FullName));
        using var content = new MemoryStream();
        await using (var packed = await zip.Entries[0].OpenAsync())
            await packed.CopyToAsync(content);
        Assert.Equal(await File.ReadAllBytesAsync(paths[2]), content.ToArray());
        using var list = new StreamReader(await zip.Entries[2].OpenAsync());
        Assert.Contains("Tin Orchard - Why Dig\n02 Tin Orchard - Why Dig.wav\n", await list.ReadToEndAsync(), StringComparison.Ordinal);
        using var none = await server.PostAsync("library/tracks", "deliver?handler=Download", ("numbers", "999"));
        Assert.Equal("/deliver", none.Headers.Location!.OriginalString);
    }

    private static long FirstCopy(InProcessServer server)
    {
        var library = server.Get<LibraryQueries>();
        return library.TracksOfAlbum(library.Albums()[0].Id)[0].Master.Id;
    }
}
