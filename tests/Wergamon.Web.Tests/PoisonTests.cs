using System.Globalization;
using System.Net;
using System.Text;
using Wergamon.App.Deliver;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Tracks;
using Wergamon.Testing;

namespace Wergamon.Web.Tests;

/// <summary>
/// Music folders and requests with text, numbers and pictures of every hostile kind: the server stays, and so does every page.
/// </summary>
public sealed class PoisonTests
{
    /// <summary>Pages that need nothing but a library.</summary>
    private static readonly string[] Plain =
    [
        "library", "library/tracks", "library/folders", "library/duplicates", "library/trash", "tags", "convert", "convert/folders",
        "convert/targets", "sets", "deliver",
        "deliver/devices", "bench", "bench/passes", "bench/findings", "runs", "intake", "intake/files", "folders",
    ];

    /// <summary>Values that numbers of tags hold in files that were written badly, or to harm.</summary>
    private static readonly string[] Numbers = [
        "1158560800/3000000000", "99999999999999999999", "-5/-7", "2147483648", "0", "1e9", "٣", "½", "NaN", "100000/100000"
    ];

    [Fact]
    public async Task Hostile_files_neither_stop_the_server_nor_a_page()
    {
        await using var server = await InProcessServer.StartAsync();
        int count = 0;
        foreach (var (_, text) in HostileText.Classes)
            WriteText(server, count++, text);
        foreach (var number in Numbers)
            WriteNumber(server, count++, number);
        foreach (var picture in (byte[][])[
            PoisonFile.Png(uint.MaxValue, uint.MaxValue), PoisonFile.Png(0, 0), PoisonFile.Png(60_000, 60_000), [], [0xFF, 0xD8],
            [.. "<svg/>"u8]
        ])
            WritePicture(server, count++, picture);
        PoisonFile.Write(
            Path.Combine(server.Music, "long.wav"), ("TIT2", PoisonFile.Text(new string('x', 6_000_000))),
            ("TPE1", PoisonFile.Text("Wickwire")));
        server.AddFile("Tin Orchard - Carts (2020)/01 Cage.wav", 441_000);
        await server.ScanAsync();

        var library = server.Get<LibraryQueries>();
        Assert.Equal(count + 2, library.CountTracks());
        Assert.Empty(server.Get<MusicFolders>().ListUnreadable());
        Assert.True(new FileInfo(server.Folder["data/wergamon.db"]).Length < 40_000_000, "What is listed of a long text is bounded.");

        foreach (var page in Plain)
            await AnswersAsync(server, page);
        foreach (var album in library.Albums())
            await AnswersAsync(server, $"library?album={album.Id}");
        var tracks = library.TracksById([.. Enumerable.Range(1, count + 2).Select(id => (long)id)]);
        var numbers = ("numbers", string.Join(',', tracks.Select(track => track.Id)));
        foreach (var track in tracks)
            await AnswersAsync(server, $"sets/tracks/{track.Id}");
        foreach (var kind in Enum.GetNames<DeliveryKind>().Where(kind => kind != nameof(DeliveryKind.Stick)))
        {
            using var made = await server.PostAsync("library/tracks", $"deliver?handler=Tracks&kind={kind}", ("list", "?"), numbers);
            Assert.Equal(HttpStatusCode.Redirect, made.StatusCode);
            await AnswersAsync(server, made.Headers.Location!.OriginalString);
            if (kind == nameof(DeliveryKind.Audio))
                await AnswersAsync(server, made.Headers.Location!.OriginalString + "/print");
        }

        using (var sheet = await server.PostAsync("library/tracks", "tags?handler=Create", ("title", "Poison"), numbers))
        {
            foreach (var tab in (string[])["", "/artwork", "/names", "/comment", "/lyrics", "/tidy", "/review"])
                await AnswersAsync(server, sheet.Headers.Location!.OriginalString + tab);
        }

        using (var set = await server.PostAsync("library/tracks", "sets?handler=New", numbers))
        {
            await AnswersAsync(server, set.Headers.Location!.OriginalString);
            foreach (var format in (string[])["M3U8", "XSPF", "CUE", "CSV"])
                await AnswersAsync(server, $"{set.Headers.Location!.OriginalString}?handler=Playlist&format={format}");
        }

        using (var plan = await server.PostAsync("library/tracks", "convert?handler=Create", ("title", "Poison"), numbers))
            await AnswersAsync(server, plan.Headers.Location!.OriginalString);
        long run = await server.ConvertAsync("archive");
        Assert.All(
            server.Get<RunStore>().Items(run).Where(item => item.IsResult),
            item => Assert.Equal((item.Title, ItemState.Done), (item.Title, item.State)));
        foreach (var page in (string[])[
            $"runs/{run}", $"runs/{run}/report.txt", $"runs/{run}/report.json", "library/tracks", "library/duplicates"
        ])
            await AnswersAsync(server, page);
    }

    /// <summary>Every page with every class of text in its query, and every form field that a page has.</summary>
    [Fact]
    public async Task Hostile_requests_are_answered_and_the_next_page_still_opens()
    {
        await using var server = await InProcessServer.StartAsync();
        server.AddFile("Tin Orchard - Carts (2020)/01 Cage.wav", 441_000);
        await server.ScanAsync();
        foreach (var (name, text) in HostileText.Classes)
        {
            var value = Escape(text.Length > 1000 ? text[..1000] : text);
            foreach (var query in (string[])["find", "title", "folder", "path", "by", "format", "handler", value.Length > 0 ? value : "x"])
            {
                using var found = await server.Client.GetAsync($"library/tracks?{query}={value}");
                Assert.True((int)found.StatusCode < 500, $"{name}: {query}: {found.StatusCode}");
            }

            foreach (var (page, action, field) in ((string, string, string)[])[
                ("sets", "sets?handler=Create", "title"), ("sets", "sets?handler=Folder", "folder"),
                ("library/tracks", "convert?handler=Create", "title"), ("library/folders", "library/folders?handler=Add", "path"),
                ("convert/targets", "convert/targets?handler=Save", "name"), ("deliver/devices", "deliver/devices?handler=Save", "name"),
                ("deliver", "deliver?handler=Stick", "place")
            ])
            {
                using var reply = await PostRawAsync(
                    server, page, action, $"{field}={Escape(text)}&numbers=1&{(value.Length > 0 ? value : "x")}=1");
                Assert.True((int)reply.StatusCode < 500, $"{name}: {action}: {reply.StatusCode}");
            }

            foreach (var page in Plain)
                await AnswersAsync(server, page);
        }
    }

    /// <summary>What cannot be a request of any page is the request's fault.</summary>
    [Theory]
    [InlineData("tags/1?handler=Cells", "application/json", "{", 400)]
    [InlineData("tags/1?handler=Cells", "application/json", "null", 400)]
    [InlineData("tags/1?handler=Cells", "application/json", "[{\"id\":1,\"field\":\"\\uD800\",\"text\":\"x\"}]", 400)]
    [InlineData("tags/1?handler=Cells", "text/plain", "x", 400)]
    [InlineData("sets?handler=Nothing", "application/x-www-form-urlencoded", "a=1", 404)]
    [InlineData("sets", "application/x-www-form-urlencoded", "a=1", 404)]
    [InlineData(
        "sets?handler=Create", "multipart/form-data; boundary=x", "--x\r\nContent-Disposition: form-data; name=\"title\"\r\n\r\nnever ends",
        400)]
    [InlineData("sets?handler=Create", "multipart/form-data", "--x", 400)]
    [InlineData("uploads", "application/json", "{", 400)]
    [InlineData("uploads", "application/json", "{\"folder\":1,\"files\":[null]}", 400)]
    public async Task Malformed_requests_are_refused(string action, string type, string body, int status)
    {
        await using var server = await InProcessServer.StartAsync();
        server.AddFile("Tin Orchard - Carts (2020)/01 Cage.wav", 4410);
        await server.ScanAsync();
        using (var sheet = await server.PostAsync("library/tracks", "tags?handler=Create", ("title", "Carts"), ("numbers", "1")))
        {
            Assert.Equal("/tags/1", sheet.Headers.Location?.OriginalString);
            using var reply = await PostRawAsync(server, "sets", action, body, type);
            Assert.Equal(status, (int)reply.StatusCode);
            await AnswersAsync(server, "sets");
        }
    }

    [Fact]
    public async Task A_handler_that_a_page_does_not_have_is_not_found()
    {
        await using var server = await InProcessServer.StartAsync();
        foreach (var page in Plain)
        {
            using var reply = await server.Client.GetAsync(page + "?handler=Nothing");
            Assert.Equal((page, HttpStatusCode.NotFound), (page, reply.StatusCode));
        }
    }

    /// <summary>A long refusal is said on the next page and does not make later requests too large.</summary>
    [Fact]
    public async Task Long_messages_do_not_go_into_cookies()
    {
        await using var server = await InProcessServer.StartAsync();
        using var reply = await server.PostAsync(
            "deliver", "deliver?handler=Stick", ("place", "/" + new string('x', 60_000)), ("title", "Stick"), ("device", "car"));
        var cookies = reply.Headers.TryGetValues("Set-Cookie", out var set) ? set.Sum(cookie => cookie.Length) : 0;
        Assert.True(cookies < 1000, $"{cookies} characters of cookies");
    }

    private static void WriteText(InProcessServer server, int index, string text) => PoisonFile.Write(
        PathOf(server, index),
        ("TIT2", PoisonFile.Text(text)), ("TPE1", PoisonFile.Text(text)), ("TALB", PoisonFile.Text(text)), ("TPE2", PoisonFile.Text(text)),
        ("TCON", PoisonFile.Text(text)), ("TKEY", PoisonFile.Text(text)),
        ("TDRC", PoisonFile.Text(text)),
        ("TXXX", [.. PoisonFile.Text(text.Replace("\0", "", StringComparison.Ordinal)), 0, 0, .. PoisonFile.Text(text)[1..]]),
        ("APIC", PoisonFile.Picture(text, PoisonFile.Png(1, 1))));

    private static void WriteNumber(InProcessServer server, int index, string number) => PoisonFile.Write(
        PathOf(server, index),
        ("TIT2", PoisonFile.Text("Adit")), ("TPE1", PoisonFile.Text("Tin Orchard")), ("TALB", PoisonFile.Text("Numbers")),
        ("TRCK", PoisonFile.Text(number)), ("TPOS", PoisonFile.Text(number)),
        ("TBPM", PoisonFile.Text(number)), ("TDRC", PoisonFile.Text(number)), ("TLEN", PoisonFile.Text(number)),
        ("POPM", [0, 255, 255, 255, 255, 255, 255, 255, 255, 255, 255]));

    private static void WritePicture(InProcessServer server, int index, byte[] picture) => PoisonFile.Write(
        PathOf(server, index), ("TIT2", PoisonFile.Text($"Picture {index}")), ("TPE1", PoisonFile.Text("Wickwire")),
        ("TALB", PoisonFile.Text("Pictures")), ("APIC", PoisonFile.Picture("", picture)));

    private static string PathOf(InProcessServer server, int index) =>
        Path.Combine(server.Music, string.Create(CultureInfo.InvariantCulture, $"poison {index:000}.wav"));

    private static async Task AnswersAsync(InProcessServer server, string address)
    {
        using var reply = await server.Client.GetAsync(address);
        Assert.True(reply.StatusCode is HttpStatusCode.OK or HttpStatusCode.Redirect, $"{address}: {reply.StatusCode}");
        await reply.Content.ReadAsByteArrayAsync();
    }

    /// <summary>Percent signs for every unit, lone surrogates as they would be written by a careless program.</summary>
    private static string Escape(string text)
    {
        var escaped = new StringBuilder();
        Span<byte> bytes = stackalloc byte[4];
        for (int i = 0; i < text.Length; i++)
        {
            int length = 0;
            if (Rune.TryGetRuneAt(text, i, out var rune))
            {
                length = rune.EncodeToUtf8(bytes);
                i += rune.Utf16SequenceLength - 1;
            }
            else
            {
                (bytes[0], bytes[1], bytes[2], length) = (
                    (byte)(0xE0 | text[i] >> 12), (byte)(0x80 | text[i] >> 6 & 0x3F), (byte)(0x80 | text[i] & 0x3F), 3);
            }

            foreach (byte each in bytes[..length])
                escaped.Append(CultureInfo.InvariantCulture, $"%{each:X2}");
        }

        return escaped.ToString();
    }

    private static Task<HttpResponseMessage> PostRawAsync(
        InProcessServer server, string page, string action, string body, string type = "application/x-www-form-urlencoded") =>
        server.PostBodyAsync(page, action, Encoding.UTF8.GetBytes(body), type);
}
