using System.Globalization;
using System.Net;
using System.Text.RegularExpressions;
using Wergamon.App.Sets;
using Wergamon.App.Tags;
using Wergamon.Core.Music;

namespace Wergamon.Web.Tests;

/// <summary>Sets as a browser and as a script asks for them.</summary>
public sealed class SetRequestTests
{
    [Fact]
    public async Task Invalid_requests_change_nothing_and_say_so()
    {
        await using var server = await StartAsync();
        var store = server.Get<SetStore>();
        store.SetSpacing(1, 500, 2000);
        var item = server.Get<MusicSets>().View(1)!.Lines[0].ItemId;
        Assert.Contains(
            "Tempo must be from 20 to 400", await PostAsync(server, "Figures", ("at", $"{item}"), ("tempo", "7")),
            StringComparison.Ordinal);
        Assert.Contains(
            "nothing was changed", await PostAsync(server, "Figures", ("at", $"{item}"), ("tempo", "quick")), StringComparison.Ordinal);
        Assert.Contains(
            "nothing was changed", await PostAsync(server, "Figures", ("at", $"{item}"), ("energy", "9")), StringComparison.Ordinal);
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
    public async Task Own_figures_are_saved_and_cleared()
    {
        await using var server = await StartAsync();
        var item = server.Get<MusicSets>().View(1)!.Lines[1].ItemId;
        await PostAsync(server, "Figures", ("at", $"{item}"), ("tempo", "124.5"), ("key", "A minor"), ("energy", "4"));
        Assert.Equal(new TrackFigures(124.5, new MusicalKey(9, IsMinor: true), 4), server.Get<MusicSets>().View(1)!.Lines[1].Track.Figures);
        await PostAsync(server, "Figures", ("at", $"{item}"), ("tempo", ""), ("key", ""), ("energy", "4"));
        Assert.Equal(new TrackFigures(null, null, 4), server.Get<MusicSets>().View(1)!.Lines[1].Track.Figures);
    }

    /// <summary>A hundred rows at a time; a window that shows others already gets those anew after a change.</summary>
    [Fact]
    public async Task A_long_set_comes_in_parts()
    {
        await using var server = await StartAsync();
        var sets = server.Get<MusicSets>();
        var tracks = sets.View(1)!.Lines.Select(line => line.Track.TrackId).ToList();
        while (sets.View(1)!.Lines.Count < 249)
            sets.Add(1, tracks, isAgain: true);
        var items = sets.View(1)!.Lines.Select(line => line.ItemId).ToList();
        var page = await server.Client.GetStringAsync(new Uri("sets/1", UriKind.Relative));
        Assert.Equal(items.Take(100), ItemsIn(page));
        Assert.Contains("id=\"part-2\"", page, StringComparison.Ordinal);
        Assert.Contains("also at 1", page, StringComparison.Ordinal);
        Assert.Equal(items.Skip(200), ItemsIn(await server.Client.GetStringAsync(new Uri("sets/1?handler=Part&part=2", UriKind.Relative))));
        Assert.Empty(ItemsIn(await server.Client.GetStringAsync(new Uri("sets/1?handler=Part&part=7", UriKind.Relative))));
        // The first goes behind the last of the second part, of which the window knows no next one.
        var moved = await PostAsync(server, "Move", ("items", $"{items[0]}"), ("after", $"{items[199]}"), ("parts", "0,1,x,99"));
        long[] expected = [.. items.Skip(1).Take(199), items[0], .. items.Skip(200)];
        Assert.Equal(expected, sets.View(1)!.Lines.Select(line => line.ItemId));
        Assert.Equal(expected.Take(200), ItemsIn(moved));
        // A cue sheet has 99 tracks at most.
        using var cue = await server.Client.GetAsync(new Uri("sets/1?handler=Playlist&format=cue", UriKind.Relative));
        Assert.Equal(HttpStatusCode.Redirect, cue.StatusCode);
    }

    [Fact]
    public async Task Invalid_marks_and_ranges_are_refused()
    {
        await using var server = await StartAsync();
        var track = server.Get<MusicSets>().View(1)!.Lines[0].Track;
        var notes = server.Get<TrackNotes>();
        async Task<string> MarkAsync(string at)
        {
            using var reply = await server.PostAsync(
                $"sets/tracks/{track.TrackId}", $"sets/tracks/{track.TrackId}?handler=Mark", ("at", at), ("title", "here"));
            return await reply.Content.ReadAsStringAsync();
        }

        foreach (var at in (string[])["soon", "-1", "9:00", "1:2:3:4", "1e9", "NaN"])
            Assert.Contains("Type the time of a mark", await MarkAsync(at), StringComparison.Ordinal);
        Assert.Empty(notes.Marks(track.TrackId));
        await MarkAsync("0:00,01");
        Assert.Contains("There is a mark at this place already", await MarkAsync("0.01"), StringComparison.Ordinal);
        Assert.Equal(0.01, Assert.Single(notes.Marks(track.TrackId)).Seconds, 6);

        foreach (var (query, status) in new[]
        {
            ("from=0&to=0&columns=9", HttpStatusCode.BadRequest), ("from=0&to=1&columns=0", HttpStatusCode.BadRequest),
            ("from=NaN&to=1&columns=9", HttpStatusCode.BadRequest), ("from=-1&to=1&columns=9", HttpStatusCode.OK)
        })
        {
            using var stretch = await server.Client.GetAsync(new Uri($"copies/{track.CopyId}/stretch?{query}", UriKind.Relative));
            Assert.Equal(status, stretch.StatusCode);
        }

        // A file that has gone: the page says so, and its marks can still be removed.
        File.Delete(track.Path);
        await server.ScanAsync();
        var gone = await server.Client.GetStringAsync(new Uri($"sets/tracks/{track.TrackId}", UriKind.Relative));
        Assert.Contains("The file is missing", gone, StringComparison.Ordinal);
        Assert.DoesNotContain("data-beat-canvas", gone, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Invalid_rules_are_refused()
    {
        await using var server = await StartAsync();
        foreach (var (name, value) in new[] { ("leastTempo", "7"), ("mostEnergy", "6"), ("leastRating", "many") })
        {
            using var reply = await server.PostAsync("sets", "sets?handler=Rule", ("title", "Odd"), (name, value));
            Assert.Equal("/sets", reply.Headers.Location!.OriginalString);
        }

        using (await server.PostAsync("sets", "sets?handler=Rule", ("title", "Odd"), ("leastTempo", "128"), ("mostTempo", "120")))
            Assert.Single(server.Get<SetStore>().List());
        using var made = await server.PostAsync("sets", "sets?handler=Rule", ("title", "Even"), ("leastTempo", "120"), ("sort", "Length"));
        Assert.Equal("/sets/2", made.Headers.Location!.OriginalString);
        Assert.Equal("at least 120 BPM", server.Get<SetStore>().Get(2)!.Rule!.InWords);
    }

    private static List<long> ItemsIn(string page) =>
        [.. Regex.Matches(page, "data-item=\"([0-9]+)\"").Select(match => long.Parse(match.Groups[1].Value, CultureInfo.InvariantCulture))];

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
