using System.Net;
using Wergamon.App.Sets;
using Wergamon.App.Tags;
using Wergamon.Core.Music;

namespace Wergamon.Web.Tests;

/// <summary>Sets as a browser and as a script asks for them.</summary>
public sealed class SetRequestTests
{
    [Fact]
    public async Task Requests_that_make_no_sense_change_nothing_and_say_so()
    {
        await using var server = await StartAsync();
        var store = server.Get<SetStore>();
        store.SetSpacing(1, 500, 2000);
        var item = server.Get<MusicSets>().View(1)!.Lines[0].ItemId;
        Assert.Contains("Tempos go from 20 to 400", await PostAsync(server, "Figures", ("at", $"{item}"), ("tempo", "7")), StringComparison.Ordinal);
        Assert.Contains("nothing was changed", await PostAsync(server, "Figures", ("at", $"{item}"), ("tempo", "quick")), StringComparison.Ordinal);
        Assert.Contains("nothing was changed", await PostAsync(server, "Figures", ("at", $"{item}"), ("energy", "9")), StringComparison.Ordinal);
        Assert.Equal(new TrackFigures(null, null, null), server.Get<MusicSets>().View(1)!.Lines[0].Track.Figures);
        await PostAsync(server, "Details", ("title", " "), ("gap", "soon"), ("crossfade", "1e300"));
        Assert.Equal(("Carts", 500L, 60_000L), (store.Get(1)!.Title, store.Get(1)!.GapMs, store.Get(1)!.CrossfadeMs));
        await PostAsync(server, "Tags", ("tempo", "true"), ("key", "true"));
        await PostAsync(server, "Tags", ("key", "true"), ("spelling", "Own"), ("own", "one\ntwo"));
        Assert.Empty(server.Get<TagSheets>().Recent(10));
        Assert.Equal(KeySpelling.Words, server.Get<MusicSets>().Notation.Spelling);
        await PostAsync(server, "Move", ("items", "7,x,-1,99999999999999999999"), ("before", $"{item}"));
        await PostAsync(server, "Sort", ("items", ""), ("sort", "Nothing"));
        Assert.Equal(3, server.Get<MusicSets>().View(1)!.Lines.Count);
        using var missing = await server.PostAsync("sets", "sets/99?handler=Shift", ("items", "1"), ("by", "1"));
        Assert.Equal(HttpStatusCode.NotFound, missing.StatusCode);
        using var playlist = await server.Client.GetAsync(new Uri("sets/1?handler=Playlist&format=exe", UriKind.Relative));
        Assert.Equal(HttpStatusCode.NotFound, playlist.StatusCode);
    }

    [Fact]
    public async Task Figures_of_ones_own_are_kept_and_emptied()
    {
        await using var server = await StartAsync();
        var item = server.Get<MusicSets>().View(1)!.Lines[1].ItemId;
        await PostAsync(server, "Figures", ("at", $"{item}"), ("tempo", "124.5"), ("key", "A minor"), ("energy", "4"));
        Assert.Equal(new TrackFigures(124.5, new MusicalKey(9, IsMinor: true), 4), server.Get<MusicSets>().View(1)!.Lines[1].Track.Figures);
        await PostAsync(server, "Figures", ("at", $"{item}"), ("tempo", ""), ("key", ""), ("energy", "4"));
        Assert.Equal(new TrackFigures(null, null, 4), server.Get<MusicSets>().View(1)!.Lines[1].Track.Figures);
    }

    private static async Task<InProcessServer> StartAsync()
    {
        var server = await InProcessServer.StartAsync();
        foreach (var title in (string[])["01 Cage", "02 Winch", "03 Adit"])
            server.AddFile($"Tin Orchard - Carts (2020)/{title}.wav", 1000);
        await server.ScanAsync();
        using (await server.PostAsync("library/tracks", "sets?handler=New", ("list", "?"), ("numbers", "")))
            await PostAsync(server, "Details", ("title", "Carts"));
        return server;
    }

    private static async Task<string> PostAsync(InProcessServer server, string handler, params (string, string)[] fields)
    {
        using var reply = await server.PostAsync("sets/1", $"sets/1?handler={handler}", fields);
        return WebUtility.HtmlDecode(await reply.Content.ReadAsStringAsync());
    }
}
