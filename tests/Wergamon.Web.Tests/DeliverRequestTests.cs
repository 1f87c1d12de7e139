using System.IO.Compression;
using System.Net;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.App.Deliver.Files;
using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Planning;
using Wergamon.Core.Sticks;

namespace Wergamon.Web.Tests;

/// <summary>Requests to deliveries that no page of ours would send, and what they do.</summary>
public sealed class DeliverRequestTests
{
    [Fact]
    public async Task Invalid_settings_are_refused_and_the_rest_is_kept()
    {
        await using var server = await InProcessServer.StartAsync();
        foreach (var title in (string[])["01 Cage", "02 Winch"])
            server.AddFile($"Tin Orchard - Carts (2020)/{title}.wav", 441_000);
        await server.ScanAsync();
        var store = server.Get<DeliveryStore>();
        using (var made = await server.PostAsync("library/tracks", "deliver?handler=Tracks&kind=Audio", ("list", "?"), ("numbers", "")))
            Assert.Equal("/deliver/1", made.Headers.Location!.OriginalString);
        AudioDiscSettings Settings() => AudioDiscSettings.Of(store.Get(1)!);
        async Task<string> SetAsync(params (string, string)[] fields) =>
            WebUtility.HtmlDecode(
                await (await server.PostAsync("deliver/1", "deliver/1?handler=Settings", fields)).Content.ReadAsStringAsync());

        await SetAsync(("pauseSeconds", "1.5"), ("level", "EachTrack"), ("copies", "3"), ("isVerified", "true"), ("artist", "Tin Orchard"));
        Assert.Equal(
            (1.5, DiscLevel.EachTrack, 3, true), (Settings().PauseSeconds, Settings().Level, Settings().Copies, Settings().IsVerified));
        Assert.Contains(
            "What is no number was left as it was", await SetAsync(("pauseSeconds", "soon"), ("copies", "many")), StringComparison.Ordinal);
        Assert.Equal((1.5, 3), (Settings().PauseSeconds, Settings().Copies));
        Assert.Contains("A catalogue number has 13 digits", await SetAsync(("catalogueNumber", "4006381333930")), StringComparison.Ordinal);
        await SetAsync(
            ("pauseSeconds", "NaN"), ("copies", "-4"), ("level", "17"), ("loudness", "1e9"), ("burner", "Z"), ("speed", "999"),
            ("title", new string('x', 500)));
        Assert.Equal(
            (1.5, 1, DiscLevel.EachTrack, -5, 120),
            (Settings().PauseSeconds, Settings().Copies, Settings().Level, Settings().Loudness, store.Get(1)!.Title.Length));

        Assert.Equal(("C", 0), (Settings().Burner, Settings().Speed));

        long item = store.Items(1)[0].Id;
        async Task<string> TrackAsync(params (string, string)[] fields) =>
            WebUtility.HtmlDecode(
                await (await server.PostAsync("deliver/1", $"deliver/1?handler=Track&at={item}", fields)).Content.ReadAsStringAsync());
        Assert.Contains("An ISRC has", await TrackAsync(("isrc", "12")), StringComparison.Ordinal);
        Assert.Contains("Enter the times of indexes", await TrackAsync(("indexes", "1:20, later")), StringComparison.Ordinal);
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
    public async Task Set_is_exported_in_its_order()
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

    /// <summary>Requests to sticks and devices that no page of ours would send.</summary>
    [Fact]
    public async Task Invalid_stick_settings_are_refused()
    {
        await using var server = await InProcessServer.StartAsync();
        server.AddFile("Tin Orchard - Carts (2020)/01 Cage.wav", 4410);
        await server.ScanAsync();
        var place = Directory.CreateDirectory(Path.Combine(server.Get<AppOptions>().DataFolder, "stick")).FullName;
        foreach (var bad in (string[])["", "/etc", place + "/not there", "relative"])
        {
            using var refused = await server.PostAsync("deliver", "deliver?handler=Stick", ("place", bad), ("device", "phone"));
            Assert.Equal("/deliver", refused.Headers.Location!.OriginalString);
        }

        Assert.Empty(server.Get<MusicSticks>().List());
        using (var made = await server.PostAsync(
            "deliver", "deliver?handler=Stick", ("place", place), ("device", "no such"), ("title", " Lamp\nstick ")))
            Assert.Equal("/deliver/stick/1", made.Headers.Location!.OriginalString);
        Assert.Equal("Lamp stick", server.Get<StickViews>().View(1)!.Row.Title);
        using (await server.PostAsync("library/tracks", "deliver?handler=Tracks&kind=Stick&stick=1", ("list", "?"), ("numbers", "")))
            Assert.Single(server.Get<StickViews>().View(1)!.Lists);
        // The same again is not there twice, and a stick that is not there takes nothing.
        using (await server.PostAsync("library/tracks", "deliver?handler=Tracks&kind=Stick&stick=1", ("list", "?"), ("numbers", "")))
            Assert.Single(server.Get<StickViews>().View(1)!.Lists);
        using (var nowhere = await server.PostAsync(
            "library/tracks", "deliver?handler=Tracks&kind=Stick&stick=77", ("list", "?"), ("numbers", "")))
            Assert.Equal("/deliver", nowhere.Headers.Location!.OriginalString);
        foreach (var address in (string[])[
            "deliver/1", "deliver/zip/1", "deliver/stick/9", "deliver/deck/9", "deliver/deck/1?handler=Sound&track=zzz",
            "deliver/devices/none", "deliver/zip/1?handler=File"
        ])
            Assert.Equal(HttpStatusCode.NotFound, (await server.Client.GetAsync(address)).StatusCode);
        foreach (var handler in (string[])["Apply", "Import&folder=1", "Place", "AddSet&set=99"])
        {
            using var reply = await server.PostAsync(
                "deliver/stick/1", $"deliver/stick/1?handler={handler}", ("x", "there:1:rating"), ("path", "../../etc/passwd"),
                ("place", "/etc"));
            Assert.Equal(HttpStatusCode.Redirect, reply.StatusCode);
        }

        Assert.Equal(place, server.Get<StickViews>().View(1)!.Place);

        // A device: what is no number or out of range changes nothing; exported, it comes in as another one.
        DeviceDescription Device() => server.Get<DeviceChoices>().Get("car-radio");
        var before = DeviceFile.Write(Device());
        foreach (var (name, value) in ((string, string)[])[
            ("maxKilobits", "lots"), ("maxKilobits", "7"), ("maxNameCharacters", "3"), ("names", "{nothing"), ("order", "Sideways")
        ])
        {
            using (await server.PostAsync(
                "deliver", "deliver/devices/car-radio?handler=Settings", ("plays", "aac"), ("maxKilobits", "320"), (name, value)))
                Assert.Equal(before, DeviceFile.Write(Device()));
        }

        using (await server.PostAsync(
            "deliver", "deliver/devices/car-radio?handler=Settings", ("plays", "flac"), ("plays", "xyz"), ("maxKilobits", ""),
            ("highestRate", "96000"), ("artwork", "7"), ("hasPlaylists", "true"), ("names", "{title}")))
            Assert.Equal(
                ("flac", null, 96_000, ArtworkChoice.None, true, "{title}"),
                (Device().Plays.Single(), Device().MaxKilobits, Device().HighestRate!.Value.Hertz, Device().Artwork!.Choice,
                    Device().HasPlaylists, Device().Names));
        using (await server.PostAsync("deliver", "deliver/devices/car-radio?handler=Remove"))
            Assert.Equal(before, DeviceFile.Write(Device()));
        using (var copied = await server.PostAsync("deliver", "deliver/devices/phone?handler=Copy", ("copyName", "Nine Gate phone")))
            Assert.Equal("/deliver/devices/own-nine-gate-phone", copied.Headers.Location!.OriginalString);
        Assert.Equal(
            DeviceFile.Write(server.Get<DeviceChoices>().Get("own-nine-gate-phone")),
            await server.Client.GetStringAsync("deliver/devices/own-nine-gate-phone?handler=Export"));
        using (await server.PostAsync("deliver", "deliver/devices/own-nine-gate-phone?handler=Remove"))
            Assert.Equal(HttpStatusCode.NotFound, (await server.Client.GetAsync("deliver/devices/own-nine-gate-phone")).StatusCode);
        using (await server.PostAsync("deliver/stick/1", "deliver/stick/1?handler=Delete"))
            Assert.Empty(server.Get<MusicSticks>().List());
        Assert.True(File.Exists(Path.Combine(place, StickMark.FileName)));
    }

    /// <summary>Files made by a target come as a zip, in order, with a playlist, as often as they are asked for.</summary>
    [Fact]
    public async Task Files_by_a_target_are_downloaded()
    {
        await using var server = await InProcessServer.StartAsync();
        foreach (var title in (string[])["01 Cage", "02 Winch"])
            server.AddFile($"Tin Orchard - Carts (2020)/{title}.wav", 44_100);
        await server.ScanAsync();
        using (await server.PostAsync("library/tracks", "deliver?handler=Tracks&kind=Zip", ("list", "?"), ("numbers", "")))
            Assert.Equal(HttpStatusCode.NotFound, (await server.Client.GetAsync("deliver/zip/1?handler=File")).StatusCode);
        using (await server.PostAsync(
            "deliver/zip/1", "deliver/zip/1?handler=Settings", ("target", "archive"), ("names", "{track:00} {title}"),
            ("isNumbered", "true"), ("hasPlaylist", "true")))
            Assert.Equal("archive", ZipSettings.Of(server.Get<DeliveryStore>().Get(1)!).TargetKey);
        using (await server.PostAsync("deliver/zip/1", "deliver/zip/1?handler=Make"))
            Assert.Equal(2, server.Get<ZippedFiles>().View(1)!.Files.Count);
        using var limit = new CancellationTokenSource(TimeSpan.FromMinutes(2));
        while (server.Get<ZippedFiles>().Made(1).Count == 0)
            await Task.Delay(50, limit.Token);
        for (int time = 0; time < 2; time++)
        {
            using var zip = new ZipArchive(await server.Client.GetStreamAsync("deliver/zip/1?handler=File"));
            Assert.Equal(["01 Cage.flac", "02 Winch.flac", "Carts.m3u8"], zip.Entries.Select(entry => entry.FullName));
            using var list = new StreamReader(await zip.Entries[2].OpenAsync());
            Assert.Contains("01 Cage.flac", await list.ReadToEndAsync(), StringComparison.Ordinal);
        }

        using (await server.PostAsync("deliver/zip/1", "deliver/zip/1?handler=Delete"))
            Assert.DoesNotContain(
                Directory.EnumerateFiles(server.Get<AppOptions>().Folders.DeliverySpool, "*", SearchOption.AllDirectories), _ => true);
    }
}
