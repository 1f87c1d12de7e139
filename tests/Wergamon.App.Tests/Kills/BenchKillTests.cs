using System.Globalization;

namespace Wergamon.App.Tests.Kills;

/// <summary>The bench while the server is killed: it finds the same as in peace.</summary>
public sealed class BenchKillTests(ITestOutputHelper output) : KillTrial(output)
{
    private static readonly int Seconds = Kills > 2 ? 40 : 10;

    /// <summary>Two tracks are compared, again and again.</summary>
    [Fact]
    public async Task Null_tests_survive_kills_of_the_server()
    {
        const string Test = "/bench/tests/1", Found = "SELECT result FROM null_test WHERE failure IS NULL";
        MakeTracks(2, Seconds);
        using var killed = NewServer();
        await ReadyAsync(killed, 2);
        Assert.Equal(
            Test, await killed.Session.PostAsync("/bench", "/bench?handler=Compare", ("first", "1"), ("second", "2"), ("level", "true")));
        await killed.UntilDoneAsync();
        var (found, sounds) = (killed.Ask<string>(Found), Assert.Single(SumsByFolder()));
        Assert.NotNull(found);
        for (int kill = 0; kill < Kills; kill++)
        {
            await killed.Session.PostAsync(Test, Test + "?handler=Again");
            await killed.KillAsync(1, 1200);
            await killed.UntilDoneAsync();
            Assert.Equal((found, sounds), (killed.Ask<string>(Found), Assert.Single(SumsByFolder())));
        }

        killed.Dispose();
        killed.AssertTidy(Music, Data);
    }

    /// <summary>A track is encoded again and again with two targets: each pass is made once from the one before.</summary>
    [Fact]
    public async Task Passes_survive_kills_of_the_server()
    {
        int passes = Kills > 2 ? 24 : 2;
        MakeTracks(1, Seconds);
        using var killed = NewServer();
        await ReadyAsync(killed, 1);
        await StartAsync();
        await killed.UntilDoneAsync();
        await StartAsync();
        for (int kill = 0; kill < Kills; kill++)
            await killed.KillAsync(1, 1200);
        await killed.UntilDoneAsync();
        killed.Dispose();
        killed.AssertTidy(Music, Data);
        var found = new[] { 1, 2 }.Select(id => killed.Ask<string>(
            $"""
            SELECT group_concat(position || ' ' || number || ' ' || original || ' ' || previous, char(10))
            FROM (SELECT * FROM pass JOIN pass_series s ON s.id = series_id WHERE passes_id = {id} ORDER BY position, number)
            """)!).ToList();
        Assert.Equal(2 * passes, found[0].Split('\n').Length);
        Assert.Equal(found[0], found[1]);
        Assert.Equal(2 * 2 * passes, KilledServer.FilesIn(Path.Combine(Data, "bench")).Count);
        Assert.Single(SumsByFolder());

        Task StartAsync() => killed.Session.PostAsync(
            "/bench/passes?copy=1", "/bench/passes", ("copy", "1"), ("target", "pocket-player"), ("target", "small-share"),
            ("count", passes.ToString(CultureInfo.InvariantCulture)));
    }

    private static async Task ReadyAsync(KilledServer killed, int tracks)
    {
        await killed.Session.UntilAsync("/library/tracks?handler=Total", $"{tracks}");
        await killed.UntilAsync($"SELECT COUNT(*) = {tracks} FROM analysis WHERE true_peak IS NOT NULL");
    }

    /// <summary>The sums of the sounds in each folder of the bench, in the order of their names; equal ones once.</summary>
    private IReadOnlyList<string> SumsByFolder() =>
        [
            .. Directory.GetDirectories(Path.Combine(Data, "bench"))
                .Select(folder => string.Join(' ', KilledServer.FilesIn(folder).Select(Sum)))
                .Distinct()
        ];
}
