using System.Net;
using Wergamon.App.Convert;
using Wergamon.App.Tracks;

namespace Wergamon.Web.Tests;

/// <summary>Where plans come from, and how their lines are cut and joined, as a browser and as a script asks for it.</summary>
public sealed class PlanStartTests
{
    [Fact]
    public async Task A_plan_starts_from_picks_an_album_or_a_whole_list()
    {
        await using var server = await StartAsync();
        var all = server.Get<LibraryQueries>().TracksOfAlbum(server.Get<LibraryQueries>().Albums()[0].Id);
        // All of the list, or just the same tracks picked one by one, is the list.
        Assert.Equal((3, true), await CreateAsync(server, ("list", "?")));
        Assert.Equal((1, true), await CreateAsync(server, ("list", "?words=winch")));
        Assert.Equal((3, true), await CreateAsync(server, ("list", "?"), ("numbers", string.Join(',', all.Select(track => track.Id)))));
        Assert.Equal((2, false), await CreateAsync(server, ("list", "?"), ("numbers", $"{all[2].Id},{all[0].Id}")));
        Assert.Equal((3, true), await CreateAsync(server, ("album", $"{all[0].AlbumId}")));
        Assert.Equal((1, false), await CreateAsync(server, ("album", $"{all[0].AlbumId}"), ("track", $"{all[1].Id}")));
        // Picks that are gone do not become everything, nor does a list without tracks become a plan.
        Assert.Null(await CreateAsync(server, ("list", "?"), ("numbers", "99")));
        Assert.Null(await CreateAsync(server, ("list", "?words=nowhere")));
        Assert.Null(await CreateAsync(server, ("album", "99")));
        Assert.Null(await CreateAsync(server));
    }

    [Fact]
    public async Task Invalid_split_and_join_requests_change_nothing()
    {
        await using var server = await StartAsync();
        await CreateAsync(server, ("list", "?"));
        Assert.Contains(
            "does not begin with a time", await SplitAsync(server, ("track", "0"), ("marks", "soon")), StringComparison.Ordinal);
        Assert.Contains("Enter at least one time", await SplitAsync(server, ("track", "0")), StringComparison.Ordinal);
        Assert.Contains(
            "no longer exist", await SplitAsync(server, ("track", "0"), ("found", "file ../../secret.cue")), StringComparison.Ordinal);
        Assert.Contains("Pick tracks first", await SplitAsync(server, ("track", "77"), ("marks", "0:01")), StringComparison.Ordinal);
        Assert.Contains("Split into 2 parts", await SplitAsync(server, ("track", "0"), ("marks", "0:00.01")), StringComparison.Ordinal);
        Assert.Contains(
            "This is already a part", await SplitAsync(server, ("track", "0"), ("marks", "0:00.005")), StringComparison.Ordinal);
        await JoinAsync(server, "0", "2");
        await JoinAsync(server, "2");
        Assert.Equal(4, Lines(server));
        await JoinAsync(server, "2", "3");
        Assert.Equal(3, Lines(server));
        using (await server.PostAsync("convert/1", "convert/1/change?handler=Whole", ("track", "1")))
            Assert.Equal(2, Lines(server));
        using var missing = await server.PostAsync("convert", "convert/99/change?handler=Split", ("track", "0"), ("marks", "0:01"));
        Assert.Equal(HttpStatusCode.NotFound, missing.StatusCode);
    }

    [Fact]
    public async Task Missing_mirror_returns_404_and_one_of_parts_is_refused()
    {
        await using var server = await StartAsync();
        await CreateAsync(server, ("list", "?"));
        await SplitAsync(server, ("track", "0"), ("marks", "0:00.01"));
        using (await server.PostAsync("convert/1", "convert/1?handler=Keep"))
            Assert.Empty(server.Get<MirrorStore>().List());
        using var page = await server.Client.GetAsync(new Uri("convert/mirrors/1", UriKind.Relative));
        Assert.Equal(HttpStatusCode.NotFound, page.StatusCode);
        using var change = await server.PostAsync("convert", "convert/mirrors/1?handler=Change");
        Assert.Equal(HttpStatusCode.NotFound, change.StatusCode);
    }

    private static async Task<InProcessServer> StartAsync()
    {
        var server = await InProcessServer.StartAsync();
        foreach (var title in (string[])["01 Cage", "02 Winch", "03 Adit"])
            server.AddFile($"Tin Orchard - Carts (2020)/{title}.wav", 1000);
        await server.ScanAsync();
        return server;
    }

    /// <summary>
    /// How many tracks the new plan has, and whether it knows the part of the library that they are; null where there is none.
    /// </summary>
    private static async Task<(int Tracks, bool IsPart)?> CreateAsync(InProcessServer server, params (string, string)[] fields)
    {
        var known = server.Get<Plans>().List().Select(plan => plan.Id).ToHashSet();
        using var reply = await server.PostAsync("convert", "convert?handler=Create", fields);
        return server.Get<Plans>().List().FirstOrDefault(plan => !known.Contains(plan.Id)) is { } made
                && server.Get<Plans>().View(made.Id) is { } view
            ? (view.Lines.Count, view.Plan.Part is not null)
            : null;
    }

    private static async Task<string> SplitAsync(InProcessServer server, params (string, string)[] fields)
    {
        using var reply = await server.PostAsync("convert/1", "convert/1/change?handler=Split", fields);
        return WebUtility.HtmlDecode(await reply.Content.ReadAsStringAsync());
    }

    private static async Task JoinAsync(InProcessServer server, params string[] tracks)
    {
        using var reply = await server.PostAsync("convert/1", "convert/1?handler=Join", [.. tracks.Select(track => ("track", track))]);
    }

    private static int Lines(InProcessServer server) => server.Get<Plans>().View(1)!.Lines.Count;
}
