using System.Net;
using System.Runtime.InteropServices;
using Wergamon.App.Bench;
using Wergamon.App.Tracks;
using Wergamon.Core.Analysis;

namespace Wergamon.Web.Tests;

/// <summary>Requests to the Bench: what makes no sense is refused, and a blind test gives nothing away.</summary>
public sealed class BenchRequestTests
{
    [Fact]
    public async Task Invalid_ranges_are_refused_and_the_rest_is_read()
    {
        await using var server = await InProcessServer.StartAsync();
        long test = await CompareAsync(server);
        foreach (var (address, status) in new[]
        {
            ($"bench/tests/{test}/waveform?from=0&to=1&columns=100", HttpStatusCode.OK),
            ($"bench/tests/{test}/waveform?from=-5&to=500&columns=8000", HttpStatusCode.OK),
            ($"bench/tests/{test}/waveform?from=1&to=1&columns=100", HttpStatusCode.BadRequest),
            ($"bench/tests/{test}/waveform?from=0&to=1&columns=99999", HttpStatusCode.BadRequest),
            ($"bench/tests/{test}/waveform?from=NaN&to=1&columns=10", HttpStatusCode.BadRequest),
            ($"bench/tests/{test}/waveform?from=0&to=1e300&columns=10", HttpStatusCode.BadRequest),
            ($"bench/tests/{test}/spectrum?from=100&to=200", HttpStatusCode.OK),
            ($"bench/tests/{test}/spectrum?from=0.1&to=0.1001", HttpStatusCode.OK),
            ($"bench/tests/{test}/spectrogram?of=Residue&from=0&to=1&columns=64", HttpStatusCode.OK),
            ($"bench/tests/{test}/spectrogram?of=7&from=0&to=1&columns=64", HttpStatusCode.BadRequest),
            ($"bench/tests/{test}/samples?from=-100&count=200", HttpStatusCode.OK),
            ($"bench/tests/{test}/samples?from=0&count=0", HttpStatusCode.BadRequest),
            ($"bench/tests/{test}/samples?from=0&count=99999999", HttpStatusCode.BadRequest),
            ($"bench/tests/{test}/samples?from=9223372036854775807&count=10", HttpStatusCode.BadRequest),
            ("bench/tests/99/waveform?from=0&to=1&columns=10", HttpStatusCode.NotFound), ("bench/tests/99", HttpStatusCode.NotFound),
            ("bench/passes/99", HttpStatusCode.NotFound), ("bench/blind/99", HttpStatusCode.NotFound),
            ("bench/findings?kind=Clicks&from=-4", HttpStatusCode.OK), ("bench/findings?copy=99", HttpStatusCode.OK),
            ("bench/compare?first=99", HttpStatusCode.OK), ("bench", HttpStatusCode.OK),
        })
        {
            using var answer = await server.Client.GetAsync(address);
            Assert.True(answer.StatusCode == status, $"{address}: {answer.StatusCode}");
        }

        long copy = server.Get<NullTestStore>().Get(test)!.First.CopyId!.Value;
        foreach (var (handler, fields) in new (string, (string, string)[])[]
        {
            ("bench?handler=Compare", [("first", $"{copy}"), ("second", $"{copy}")]),
            ("bench?handler=Compare", [("first", "77"), ("second", $"{copy}")]), ("bench?handler=Source", [("copy", "77")]),
            ("bench?handler=Source", [("copy", $"{copy}")]),
        })
        {
            using var answer = await server.PostAsync("bench", handler, fields);
            Assert.Equal("/bench", answer.Headers.Location!.OriginalString);
        }

        // Any two files of allowed folders, and no others.
        var path = server.Get<NullTestStore>().Get(test)!.First.Path;
        var outside = Path.Combine(Path.GetDirectoryName(path)!, "outside.flac");
        await File.WriteAllTextAsync(outside, "no sound");
        foreach (var (one, other, problem) in new[]
        {
            ("one.wav", path, "Enter the full path"), ("/etc/passwd", path, "is missing, or not a file in an allowed folder"),
            (path, path, "Choose two different files."), (path, outside, "outside.flac: ")
        })
        {
            using var answer = await server.PostAsync(
                "bench/compare", "bench/compare?handler=Files", ("firstFile", one), ("secondFile", other));
            Assert.Contains(problem, WebUtility.HtmlDecode(await answer.Content.ReadAsStringAsync()), StringComparison.Ordinal);
        }

        File.Copy(path, outside[..^5] + ".wav");
        using (var answer = await server.PostAsync(
            "bench/compare", "bench/compare?handler=Files", ("firstFile", path), ("secondFile", outside[..^5] + ".wav"), ("level", "true")))
            Assert.Equal($"/bench/tests/{test + 1}", answer.Headers.Location!.OriginalString);

        foreach (var count in (string[])["0", "33", "many"])
        {
            using var answer = await server.PostAsync(
                "bench", "bench/passes", ("copy", $"{copy}"), ("target", "archive"), ("count", count));
            Assert.Contains("Type a number of passes from 1 to 32.", await answer.Content.ReadAsStringAsync(), StringComparison.Ordinal);
        }
    }

    [Fact]
    public async Task A_blind_test_gives_nothing_away_before_its_end()
    {
        const int Trials = 12, Count = 2000;
        await using var server = await InProcessServer.StartAsync();
        long test = await CompareAsync(server), id = server.Get<BlindTests>().Start(test, Trials);
        var seed = server.Get<BlindTests>().Get(id)!.Seed;
        var pages = new HashSet<string>();
        for (int trial = 1; trial <= Trials; trial++)
        {
            // Pages and headers are the same whatever X is, but for the number of the trial.
            using var page = await server.Client.GetAsync($"bench/blind/{id}");
            var text = await page.Content.ReadAsStringAsync();
            Assert.DoesNotContain(System.Convert.ToHexStringLower(seed), text, StringComparison.Ordinal);
            Assert.DoesNotContain(
                "right", text[text.IndexOf("data-blind", StringComparison.Ordinal)..text.IndexOf("</main>", StringComparison.Ordinal)],
                StringComparison.Ordinal);
            using var answer = await server.Client.GetAsync($"bench/blind/{id}/samples?trial={trial}&from=4410&count={Count}");
            pages.Add(
                $"{answer.StatusCode} {answer.Content.Headers.ContentLength} {answer.Content.Headers.ContentType} "
                    + $"{answer.Headers.CacheControl} {answer.Headers.ETag}");
            var samples = MemoryMarshal.Cast<byte, float>(await answer.Content.ReadAsByteArrayAsync()).ToArray();
            Assert.Equal(3 * Count * 2, samples.Length);
            var (a, b, x) = (samples[..(2 * Count)], samples[(2 * Count)..(4 * Count)], samples[(4 * Count)..]);
            Assert.NotEqual(a, x);
            Assert.NotEqual(b, x);
            // It is what the seed says, but for noise below 24 bits.
            Assert.True((BlindTrial.IsFirst(seed, trial) ? a : b).Zip(x).All(pair => Math.Abs(pair.First - pair.Second) < 3e-7));
            using var ahead = await server.Client.GetAsync($"bench/blind/{id}/samples?trial={trial + 1}&from=0&count=10");
            Assert.Equal(HttpStatusCode.NotFound, ahead.StatusCode);
            using (await server.PostAsync(
                $"bench/blind/{id}", $"bench/blind/{id}?handler=Answer", ("trial", $"{trial}"), ("first", "true")))
            using (await server.PostAsync(
                $"bench/blind/{id}", $"bench/blind/{id}?handler=Answer", ("trial", $"{trial}"), ("first", "false")))
                Assert.Equal(trial, server.Get<BlindTests>().Get(id)!.Answers.Count);
        }

        Assert.Single(pages);
        var record = server.Get<BlindTests>().Get(id)!;
        Assert.True(record.IsOver && record.Answers.All(answer => answer.SaysFirst));
        Assert.Equal(Enumerable.Range(1, Trials).Count(trial => BlindTrial.IsFirst(seed, trial)), record.Right);
        Assert.Contains(
            System.Convert.ToHexStringLower(seed), await server.Client.GetStringAsync($"bench/blind/{id}"), StringComparison.Ordinal);
        Assert.Equal(
            HttpStatusCode.NotFound, (await server.Client.GetAsync($"bench/blind/{id}/samples?trial=1&from=0&count=10")).StatusCode);
    }

    private static async Task<long> CompareAsync(InProcessServer server)
    {
        foreach (var title in (string[])["01 Cage", "02 Winch"])
            server.AddFile($"Tin Orchard - Carts (2020)/{title}.wav", 441_000);
        await server.ScanAsync();
        var copies = server.Get<LibraryQueries>().TracksById([1, 2]).Select(track => track.Master.Id).ToList();
        using var answer = await server.PostAsync(
            "bench", "bench?handler=Compare", ("first", $"{copies[0]}"), ("second", $"{copies[1]}"), ("level", "true"));
        long test = long.Parse(answer.Headers.Location!.OriginalString.Split('/')[^1], System.Globalization.CultureInfo.InvariantCulture);
        while (server.Get<NullTestStore>().Get(test) is { Result: null, Failure: null })
            await Task.Delay(50);
        return test;
    }
}
