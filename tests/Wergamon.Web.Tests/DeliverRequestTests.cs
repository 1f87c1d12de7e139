using System.Net;
using Wergamon.App.Deliver;
using Wergamon.App.Library;

namespace Wergamon.Web.Tests;

/// <summary>Requests to deliveries that no page of ours would send, and what they do.</summary>
public sealed class DeliverRequestTests
{
    [Fact]
    public async Task What_makes_no_sense_is_refused_and_the_rest_is_kept()
    {
        await using var server = await InProcessServer.StartAsync();
        foreach (var title in (string[])["01 Cage", "02 Winch"])
            server.AddFile($"Tin Orchard - Carts (2020)/{title}.wav", 441_000);
        await server.ScanAsync();
        var store = server.Get<DeliveryStore>();
        using (var made = await server.PostAsync("library/tracks", "deliver?handler=Tracks&kind=Audio", ("list", "?"), ("numbers", "")))
            Assert.Equal("/deliver/1", made.Headers.Location!.OriginalString);
        AudioDiscSettings Settings() => AudioDiscSettings.Of(store.Get(1)!);
        async Task<string> SetAsync(params (string, string)[] fields) => WebUtility.HtmlDecode(await (await server.PostAsync("deliver/1", "deliver/1?handler=Settings", fields)).Content.ReadAsStringAsync());

        await SetAsync(("pauseSeconds", "1.5"), ("level", "EachTrack"), ("copies", "3"), ("isVerified", "true"), ("artist", "Tin Orchard"));
        Assert.Equal((1.5, DiscLevel.EachTrack, 3, true), (Settings().PauseSeconds, Settings().Level, Settings().Copies, Settings().IsVerified));
        Assert.Contains("What is no number was left as it was", await SetAsync(("pauseSeconds", "soon"), ("copies", "many")), StringComparison.Ordinal);
        Assert.Equal((1.5, 3), (Settings().PauseSeconds, Settings().Copies));
        Assert.Contains("A catalogue number has 13 digits", await SetAsync(("catalogueNumber", "4006381333930")), StringComparison.Ordinal);
        await SetAsync(("pauseSeconds", "NaN"), ("copies", "-4"), ("level", "17"), ("loudness", "1e9"), ("burner", "Z"), ("speed", "999"), ("title", new string('x', 500)));
        Assert.Equal((1.5, 1, DiscLevel.EachTrack, -5, 120), (Settings().PauseSeconds, Settings().Copies, Settings().Level, Settings().Loudness, store.Get(1)!.Title.Length));

        Assert.Equal(("C", 0), (Settings().Burner, Settings().Speed));

        long item = store.Items(1)[0].Id;
        async Task<string> TrackAsync(params (string, string)[] fields) => WebUtility.HtmlDecode(await (await server.PostAsync("deliver/1", $"deliver/1?handler=Track&at={item}", fields)).Content.ReadAsStringAsync());
        Assert.Contains("An ISRC has", await TrackAsync(("isrc", "12")), StringComparison.Ordinal);
        Assert.Contains("Type the times of indexes", await TrackAsync(("indexes", "1:20, later")), StringComparison.Ordinal);
        Assert.Null(store.Items(1)[0].Settings);
        await TrackAsync(("isrc", "zz-lq1-21-00002"), ("indexes", "0:05, 2.5"), ("trackTitle", " Cage,\nlive "));
        var own = AudioTrackSettings.Of(store.Items(1)[0]);
        Assert.Equal(("ZZLQ12100002", "Cage, live", "2.5 5"), (own.Isrc, own.Title, string.Join(' ', own.Indexes)));

        // The other kinds' pages do not take it, nor does a page of what is not there.
        foreach (var address in (string[])["deliver/data/1", "deliver/joined/1", "deliver/2", "deliver/2/print"])
            Assert.Equal(HttpStatusCode.NotFound, (await server.Client.GetAsync(address)).StatusCode);
        using (await server.PostAsync("deliver/1", "deliver/1?handler=Image", ("folder", "/etc")))
            Assert.Null(Settings().ImageFolder);
        using (await server.PostAsync("deliver/1", "deliver/1?handler=Insert", ("burner", "Q"), ("disc", "blank-80")))
            Assert.All(server.Get<BurnerBay>().Burners, burner => Assert.Null(burner.Disc));
        using (await server.PostAsync("deliver", "deliver?handler=ThrowAway", ("key", "../../etc/passwd")))
            Assert.True(File.Exists("/etc/passwd"));

        // Moved, taken off, removed.
        var order = store.Items(1).Select(each => each.Id).ToList();
        using (await server.PostAsync("deliver/1", "deliver/1?handler=Shift", ("items", $"{order[1]},999"), ("by", "-1")))
            Assert.Equal([order[1], order[0]], store.Items(1).Select(each => each.Id));
        using (await server.PostAsync("deliver/1", "deliver/1?handler=Remove", ("items", $"{order[0]}")))
            Assert.Single(store.Items(1));
        using (await server.PostAsync("deliver/1", "deliver/1?handler=Delete"))
            Assert.Empty(store.List());
    }

    [Fact]
    public async Task A_set_goes_out_in_its_order()
    {
        await using var server = await InProcessServer.StartAsync();
        foreach (var title in (string[])["01 Cage", "02 Winch"])
            server.AddFile($"Tin Orchard - Carts (2020)/{title}.wav", 1000);
        await server.ScanAsync();
        var tracks = server.Get<LibraryQueries>().TracksOfAlbum(1).Select(track => track.Id).ToList();
        var sets = server.Get<Wergamon.App.Sets.SetStore>();
        long set = sets.CreateNumbered("Night");
        server.Get<Wergamon.App.Sets.MusicSets>().Add(set, [tracks[1], tracks[0]]);
        foreach (var kind in Enum.GetValues<DeliveryKind>())
        {
            using var reply = await server.PostAsync($"sets/{set}", "deliver?handler=Set", ("set", $"{set}"), ("kind", $"{kind}"));
            Assert.Equal(HttpStatusCode.OK, (await server.Client.GetAsync(reply.Headers.Location)).StatusCode);
        }

        Assert.All(server.Get<DeliveryStore>().List(), row => Assert.Equal((2, "Night"), (row.Tracks, row.Title)));
        Assert.Equal([tracks[1], tracks[0]], server.Get<DeliveryStore>().Items(1).Select(item => item.TrackId!.Value));
    }
}
