using System.Net;
using System.Text.RegularExpressions;
using Wergamon.App.Convert;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Runs;
using Wergamon.App.Sets;
using Wergamon.App.Tracks;

namespace Wergamon.Web.Tests;

/// <summary>The first page of each station: what can be begun, what is kept up to date and what was done last.</summary>
public sealed partial class FrontTests
{
    /// <summary>What leads on from each page, and what is listed once there is something.</summary>
    public static TheoryData<string, string, string> Fronts => new()
    {
        { "intake", "href=\"/library/folders\"", "href=\"/library?album=1\"" },
        { "convert", "href=\"/library/folders\"", "data-plan-album" },
        { "bench", "href=\"/bench/compare\"", "href=\"/bench/passes\"" },
        { "sets", "data-open=\"new-set\"", "href=\"/sets/1\"" },
        { "deliver", "href=\"/deliver/new?kind=Audio\"", "href=\"/deliver/1\"" },
        { "deliver/new?kind=Audio", "href=\"/sets\"", "album=1" },
        { "deliver/new?kind=Stick", "data-open=\"new-stick\"", "data-open=\"new-stick\"" },
    };

    [Theory]
    [MemberData(nameof(Fronts))]
    public async Task Every_front_page_leads_on(string page, string whenEmpty, string whenThere)
    {
        await using var server = await InProcessServer.StartAsync();
        Assert.Contains(whenEmpty, await MainAsync(server, page), StringComparison.Ordinal);
        await FillAsync(server);
        server.Get<SetStore>().Create("Underlamp");
        using (await server.PostAsync("deliver", "deliver?handler=Tracks", ("album", "1"), ("kind", "Audio")))
            Assert.Contains(whenThere, await MainAsync(server, page), StringComparison.Ordinal);
    }

    [Fact]
    public async Task A_set_says_where_it_is()
    {
        await using var server = await InProcessServer.StartAsync();
        await FillAsync(server);
        var tracks = server.Get<LibraryQueries>().TracksOfAlbum(1).Select(track => track.Id).ToList();
        long set = server.Get<SetStore>().Create("Underlamp")!.Value;
        Assert.Contains("No tracks yet", await MainAsync(server, "sets"), StringComparison.Ordinal);
        server.Get<MusicSets>().Add(set, tracks[..2]);
        Assert.Contains("fits an 80-minute disc with 1:19:5", await MainAsync(server, "sets"), StringComparison.Ordinal);
        Assert.Contains("2 tracks not analysed", await MainAsync(server, "sets"), StringComparison.Ordinal);

        Directory.CreateDirectory(server.Folder["card"]);
        var (stick, problem) = server.Get<MusicSticks>().Add(server.Folder["card"], "Card", "phone");
        Assert.Null(problem);
        Assert.Contains("nothing is to be on it yet", await StateAsync(server, stick!.Value), StringComparison.Ordinal);
        server.Get<StickLists>().AddSet(stick.Value, set);
        Assert.Contains("Not written to Card yet", await MainAsync(server, "sets"), StringComparison.Ordinal);
        // Two tracks and their playlist.
        Assert.Contains("3 to add", await StateAsync(server, stick.Value), StringComparison.Ordinal);
        long run = server.Get<MusicSticks>().Update(stick.Value).RunId!.Value;
        await InProcessServer.UntilAsync(() => server.Get<RunStore>().Get(run)!.State == RunState.Done);
        Assert.Contains("On Card, all tracks", await MainAsync(server, "sets"), StringComparison.Ordinal);
        await InProcessServer.UntilAsync(() => StateAsync(server, stick.Value).Result.Contains("in step", StringComparison.Ordinal));

        // One comes, one goes.
        server.Get<MusicSets>().Add(set, tracks[2..]);
        server.Get<MusicSets>().Remove(set, new HashSet<long> { server.Get<MusicSets>().View(set)!.Lines[0].ItemId });
        var changed = await MainAsync(server, "sets");
        Assert.Matches("[12] changed since Card was written", changed);

        // A set by rule is counted when the page asks for it.
        long rule = server.Get<SetStore>().Create("All", new SetRule())!.Value;
        Assert.Contains($"handler=Size&id={rule}", WebUtility.HtmlDecode(await MainAsync(server, "sets")), StringComparison.Ordinal);
        Assert.StartsWith("3 tracks, ", await server.Client.GetStringAsync($"sets?handler=Size&id={rule}"), StringComparison.Ordinal);
        using var none = await server.Client.GetAsync("sets?handler=Size&id=99");
        Assert.Equal(HttpStatusCode.NotFound, none.StatusCode);
    }

    [Fact]
    public async Task A_mirror_and_a_run_say_what_came_of_them()
    {
        await using var server = await InProcessServer.StartAsync();
        await FillAsync(server);
        var tracks = server.Get<LibraryQueries>().TracksOfAlbum(1).Select(track => track.Id).ToList();
        long plan = server.Get<Plans>().Create("Carts", "archive", tracks);
        Assert.Contains("Plans, not run yet", await MainAsync(server, "convert"), StringComparison.Ordinal);
        long mirror = server.Get<Mirrors>().Keep(plan).Id!.Value;
        Assert.Contains("Review 3 changes", await server.Client.GetStringAsync($"convert?handler=MirrorState&id={mirror}"),
            StringComparison.Ordinal);
        long run = server.Get<Mirrors>().Update(mirror)!.Value;
        await InProcessServer.UntilAsync(() => server.Get<RunStore>().Get(run)!.State == RunState.Done);
        Assert.Contains(
            "in step", await server.Client.GetStringAsync($"convert?handler=MirrorState&id={mirror}"), StringComparison.Ordinal);
        var page = await MainAsync(server, "convert");
        Assert.Contains("3 updated", page, StringComparison.Ordinal);
        Assert.Contains($"href=\"/runs/{run}\"", page, StringComparison.Ordinal);
        using var none = await server.Client.GetAsync("convert?handler=MirrorState&id=99");
        Assert.Equal(HttpStatusCode.NotFound, none.StatusCode);
    }

    /// <summary>Music for a delivery is found by its words, and a disc says how it fits before it is burned.</summary>
    [Fact]
    public async Task Music_is_found_for_a_disc()
    {
        await using var server = await InProcessServer.StartAsync();
        await FillAsync(server);
        Assert.Contains("Carts", await MainAsync(server, "deliver/new?kind=Audio&words=orch+cage"), StringComparison.Ordinal);
        foreach (var words in (string[])["zither", "%22", "\" OR *", "ca*ge("])
            Assert.Contains(
                "No album has these words",
                await MainAsync(server, $"deliver/new?kind=Audio&words={Uri.EscapeDataString(words + " zz")}"), StringComparison.Ordinal);
        using (await server.PostAsync("deliver", "deliver?handler=Tracks", ("album", "1"), ("kind", "Audio")))
            Assert.Contains("free, not burned yet", await MainAsync(server, "deliver"), StringComparison.Ordinal);
        for (int i = 0; i < 25; i++)
            server.Get<DeliveryStore>().Create(DeliveryKind.Zip, $"Zip {i}", "{}", [1]);
        Assert.Contains("Show all 26", await MainAsync(server, "deliver"), StringComparison.Ordinal);
        Assert.Contains("Zip 0", await MainAsync(server, "deliver?all=true"), StringComparison.Ordinal);
    }

    private static Task FillAsync(InProcessServer server)
    {
        foreach (var title in (string[])["01 Cage", "02 Winch", "03 Adit"])
            server.AddFile($"Tin Orchard - Carts (2020)/{title}.wav", 44_100);
        return server.ScanAsync();
    }

    private static async Task<string> MainAsync(InProcessServer server, string page) =>
        MainPart().Match(await server.Client.GetStringAsync(page)) is { Success: true } found
            ? WebUtility.HtmlDecode(found.Value)
            : throw new InvalidDataException($"{page} has no main part.");

    private static Task<string> StateAsync(InProcessServer server, long stick) =>
        server.Client.GetStringAsync($"deliver?handler=StickState&id={stick}");

    [GeneratedRegex("<main .*</main>", RegexOptions.Singleline)]
    private static partial Regex MainPart();
}
