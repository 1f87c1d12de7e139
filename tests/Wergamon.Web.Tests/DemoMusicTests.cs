using System.Net;
using Wergamon.App.Library.Scan;
using Wergamon.Testing;

namespace Wergamon.Web.Tests;

/// <summary>A new library starts with the demo; one click takes it out, and it stays out.</summary>
public sealed class DemoMusicTests
{
    [Fact]
    public async Task Demo_music_is_removed_and_added_with_one_click()
    {
        using var demo = new TemporaryFolder();
        await using var server = await InProcessServer.StartAsync("--demo", demo.Path);
        var folders = server.Get<MusicFolders>();
        Assert.Equal([demo.Path], folders.List().Select(folder => folder.Path));
        var music = server.Get<DemoMusic>();
        await InProcessServer.UntilAsync(() => music.TakeOut() is null);
        Assert.Empty(folders.List());
        music.BeginWith();
        Assert.Empty(folders.List());

        var page = await server.Client.GetStringAsync("library");
        Assert.Contains("Add demo music", page, StringComparison.Ordinal);
        Assert.Contains("Add a music folder", page, StringComparison.Ordinal);
        Assert.Null(music.PutIn());
        Assert.Equal([demo.Path], folders.List().Select(folder => folder.Path));
        Assert.Contains("Remove demo music", await server.Client.GetStringAsync("library/folders"), StringComparison.Ordinal);
    }

    [Fact]
    public async Task Folders_are_offered_below_allowed_ones_with_reasons_if_they_cannot_be_opened()
    {
        await using var server = await InProcessServer.StartAsync();
        Directory.CreateDirectory(server.Folder["music/Old & new"]);
        Directory.CreateSymbolicLink(server.Folder["music/leads out"], "/etc");
        var roots = await server.Client.GetStringAsync("folders");
        Assert.Contains(server.Folder.Path, roots, StringComparison.Ordinal);
        var listed = await server.Client.GetStringAsync("folders?at=" + Uri.EscapeDataString(server.Music));
        Assert.Contains("Old &amp; new", listed, StringComparison.Ordinal);
        Assert.Contains("/etc is not below", listed, StringComparison.Ordinal);
        Assert.DoesNotContain("ssl", listed, StringComparison.Ordinal);
        foreach (var place in new[] { "/etc", "/nowhere", "relative", "%00", "\ud800" })
            Assert.Equal(HttpStatusCode.OK, (await server.Client.GetAsync("folders?at=" + Uri.EscapeDataString(place))).StatusCode);
    }
}
