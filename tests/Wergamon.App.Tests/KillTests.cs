using System.Globalization;
using System.Security.Cryptography;
using System.Text.Json;
using Dapper;
using Microsoft.Data.Sqlite;
using Wergamon.App.Files;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Wav;
using Wergamon.Testing;

namespace Wergamon.App.Tests;

/// <summary>The real server, killed again and again at moments that nobody chose.</summary>
public sealed class KillTests(Xunit.Abstractions.ITestOutputHelper output)
{
    private const int Kills = 4, Tracks = 10;

    /// <summary>After each kill another server goes on; in the end every copy is there once and whole, and nothing else is.</summary>
    [Fact]
    public async Task A_run_outlives_kills_of_the_server_at_random_moments()
    {
        using var folder = new TemporaryFolder();
        var (music, data) = (Directory.CreateDirectory(folder["music"]).FullName, folder["data"]);
        var sums = Enumerable.Range(1, Tracks).Select(number => MakeTrack(music, number)).ToList();
        int seed = Random.Shared.Next();
        output.WriteLine($"seed {seed}");
        var moments = new Random(seed);

        var server = new WebServer(data, music, folder.Path);
        using (var session = new HttpSession(server.Address))
        {
            await session.UntilAsync("/library/tracks?handler=Total", Tracks.ToString(CultureInfo.InvariantCulture));
            var ids = JsonSerializer.Deserialize<long[]>(await session.GetAsync($"/library/tracks?handler=Ids&offset=0&count={Tracks}"))!;
            var plan = await session.PostAsync("/library/tracks", "/convert?handler=Create", ("numbers", string.Join(',', ids)));
            Assert.Equal("/runs/1", await session.PostAsync(plan, plan + "?handler=Run"));
        }

        for (int kill = 0; kill < Kills; kill++)
        {
            // The moment has to be any; the outcome has to be the same whenever it is.
            await Task.Delay(moments.Next(50, 1500));
            server.KillHard();
            server.Dispose();
            server = new WebServer(data, music, folder.Path);
        }

        using (var session = new HttpSession(server.Address))
            await session.UntilAsync("/runs/1", "data-state=\"done\"");
        server.Dispose();

        Assert.Equal(sums, Directory.GetFiles(music).Order(StringComparer.Ordinal).Select(Sum));
        var made = Directory.GetFiles(Path.Combine(data, "converted"), "*", new EnumerationOptions { RecurseSubdirectories = true, AttributesToSkip = 0 });
        Assert.Equal(Tracks, made.Length);
        foreach (var path in made)
        {
            Assert.DoesNotContain(Placement.TemporaryPrefix, path, StringComparison.Ordinal);
            using var stream = File.OpenRead(path);
            var reading = FileReading.Read(stream);
            Assert.Empty(reading.Damage);
            Assert.InRange(LibMpg123.CountFrames(path), 44_100, 20L * 44_100);
        }

        using var connection = new SqliteConnection($"Data Source={Path.Combine(data, "wergamon.db")};Pooling=False");
        connection.Open();
        Assert.Equal("ok", connection.ExecuteScalar<string>("PRAGMA integrity_check"));
        Assert.Empty(connection.Query("PRAGMA foreign_key_check"));
        Assert.Equal(0, connection.ExecuteScalar<int>("SELECT COUNT(*) FROM file_change"));
        Assert.Equal(Tracks, connection.ExecuteScalar<int>("SELECT COUNT(*) FROM run_item WHERE state = 'done'"));
        Assert.Equal(2 * Tracks, connection.ExecuteScalar<int>("SELECT COUNT(*) FROM copy WHERE NOT is_missing"));
    }

    private static string MakeTrack(string music, int number)
    {
        var format = new PcmFormat(SampleRate.AudioDisc, 2, 16);
        var path = Path.Combine(music, string.Create(CultureInfo.InvariantCulture, $"The Quarry Lamps - Night Shift - {number:00} Turn {number}.wav"));
        using (var writer = new WavWriter(File.Create(path), format))
            TestSound.Music(format, (5 + number) * 44_100L).CopyTo(writer);
        return Sum(path);
    }

    private static string Sum(string path) => System.Convert.ToHexString(SHA256.HashData(File.ReadAllBytes(path)));
}
