using System.Net;
using Wergamon.App.Library.Listening;
using Wergamon.App.Tracks;
using Wergamon.Core.Tags;
using Wergamon.Testing;

namespace Wergamon.Web.Tests;

/// <summary>The frame around the pages, and the pictures in them.</summary>
public sealed class ShellTests
{
    [Theory]
    [InlineData("dark", "/library/tracks?words=a", "/library/tracks?words=a", "theme=dark")]
    [InlineData("light", "https://elsewhere.example/", "/", "theme=light")]
    [InlineData("light", "//elsewhere.example/", "/", "theme=light")]
    [InlineData("", "/intake", "/intake", "theme=;")]
    [InlineData("\"><script>", "/intake", "/intake", "theme=;")]
    public async Task A_theme_is_kept_by_the_browser_and_the_page_comes_back(string theme, string back, string place, string cookie)
    {
        await using var server = await InProcessServer.StartAsync();
        using var reply = await server.PostAsync("library", "shell?handler=Theme", ("theme", theme), ("back", back));
        Assert.Equal((HttpStatusCode.Redirect, place), (reply.StatusCode, reply.Headers.Location!.OriginalString));
        Assert.Contains(reply.Headers.GetValues("Set-Cookie"), set => set.StartsWith(cookie, StringComparison.Ordinal));
    }

    [Fact]
    public async Task Chosen_theme_is_on_every_page_and_a_forged_one_on_none()
    {
        await using var server = await InProcessServer.StartAsync();
        foreach (var (cookie, expected) in new[] { ("theme=dark", true), ("theme=\"onload=x", false), ("other=dark", false) })
        {
            using var request = new HttpRequestMessage(HttpMethod.Get, "library");
            request.Headers.Add("Cookie", cookie);
            Assert.Equal(
                expected,
                (await (
                        await server.Client.SendAsync(request))
                        .Content.ReadAsStringAsync()).Contains("data-theme=\"dark\"", StringComparison.Ordinal));
        }
    }

    [Fact]
    public async Task A_cover_comes_in_the_sizes_that_lists_show_and_in_no_other()
    {
        await using var server = await InProcessServer.StartAsync();
        // The cover first: the folder is watched, and a scan may come while a file is being written.
        Directory.CreateDirectory(Path.Combine(server.Music, "Tin Orchard - Carts (2020)"));
        using (var demo = File.OpenRead(
            Directory.GetFiles(WebServer.DemoMusic, "*.flac", SearchOption.AllDirectories).Order(StringComparer.Ordinal).First()))
            await File.WriteAllBytesAsync(
                Path.Combine(server.Music, "Tin Orchard - Carts (2020)", "cover.jpg"),
                Core.Formats.Registry.FileReading.ReadTags(demo).Tags.Pictures[0].Data.ToArray());
        server.AddFile("Tin Orchard - Carts (2020)/01 Cart.wav", 1000);
        await server.ScanAsync();
        var hash = server.Get<LibraryQueries>().Albums()[0].CoverHash!;
        foreach (int size in Thumbnails.Sizes)
            Assert.Equal(new PictureSize(size, size), PictureSize.Of(await server.Client.GetByteArrayAsync($"artwork/{hash}?size={size}")));
        Assert.Equal(new PictureSize(1000, 1000), PictureSize.Of(await server.Client.GetByteArrayAsync($"artwork/{hash}")));
        foreach (var address in new[]
        {
            $"artwork/{hash}?size=129", $"artwork/{hash}?size=-1", $"artwork/{new string('0', 64)}?size=128", "artwork/..%2F..%2Fetc",
            "artwork/cover"
        })
            Assert.Equal(HttpStatusCode.NotFound, (await server.Client.GetAsync(address)).StatusCode);
    }
}
