using System.Globalization;

namespace Wergamon.App.Tests.Kills;

/// <summary>Background work while the server is killed.</summary>
public sealed class BackgroundKillTests(ITestOutputHelper output) : KillTrial(output)
{
    /// <summary>
    /// What is found out of files is the same as in peace: sums, levels, waveforms, tempo and key, and what the bench says.
    /// </summary>
    [Fact]
    public async Task Analyses_survive_kills_of_the_server()
    {
        var (tracks, seconds) = Kills > 2 ? (60, 20) : (8, 5);
        MakeTracks(tracks, seconds);
        var found = new List<string>();
        foreach (var data in (string[])[Folder["peace"], Data])
        {
            using var killed = NewServer(data: data);
            for (int kill = 0; kill < (data == Data ? Kills : 0); kill++)
                await killed.KillAsync(200, 2500);
            await killed.Session.UntilAsync("/library/tracks?handler=Total", $"{tracks}");
            await killed.Session.PostAsync("/bench/findings", "/bench/findings?handler=All");
            var set = await killed.Session.PostAsync("/library/tracks", "/sets?handler=New", ("list", "?"));
            await killed.Session.PostAsync(set, set + "?handler=Analyse");
            for (int kill = 0; kill < (data == Data ? Kills : 0); kill++)
                await killed.KillAsync(20, 600);
            await killed.UntilDoneAsync();
            await killed.UntilAsync($"SELECT COUNT(*) = {tracks} FROM analysis WHERE true_peak IS NOT NULL");
            killed.Dispose();
            killed.AssertTidy(Music, data);
            found.Add(killed.Ask<string>(
                """
                SELECT group_concat(
                    path || ' ' || samples || ' ' || peak || ' ' || loudness || ' ' || loudness_range || ' ' || true_peak
                    || ' ' || hex(waveform) || ' ' || result || ' ' || real_bits || ' ' || ifnull(tempo, '') || ' ' ||
                    ifnull(musical_key, '') || ' ' || onsets || ' ' || brightness,
                    char(10))
                FROM (SELECT * FROM copy JOIN analysis a ON a.copy_id = copy.id JOIN inspection i ON i.copy_id = copy.id
                    JOIN music m ON m.copy_id = copy.id ORDER BY path)
                """)!);
        }

        Assert.Equal(tracks, found[0].Split('\n').Length);
        Assert.Equal(found[0], found[1]);
    }

    /// <summary>Files are dropped before and between the kills: each is converted once, and its original is in the trash.</summary>
    [Fact]
    public async Task A_drop_folder_survives_kills_of_the_server()
    {
        MakeTracks(1);
        var (drop, made) = (Directory.CreateDirectory(Folder["drop"]).FullName, Folder["made"]);
        using var killed = NewServer();
        await killed.Session.PostAsync(
            "/convert/folders", "/convert/folders?handler=Add", ("path", drop), ("target", "archive"), ("output", made),
            ("takesOriginals", "true"));
        int files = 0;
        for (int kill = 0; kill < Kills; kill++)
        {
            Drop();
            Drop();
            // Long enough for a file to rest, at times; it does so across restarts, too.
            await killed.KillAsync(500, 6000);
        }

        Drop();
        const string Settled = "FROM drop_file WHERE state <> 'running'";
        await killed.UntilAsync($"SELECT COUNT(*) = {files} {Settled}");
        while (KilledServer.IsOfWorkers && killed.Ask<bool>("SELECT EXISTS (SELECT 1 FROM drop_file WHERE state = 'failed')"))
        {
            await killed.Session.PostAsync("/convert/folders", "/convert/folders?handler=Retry", ("id", "1"));
            await killed.UntilAsync($"SELECT COUNT(*) = {files} {Settled}");
        }

        killed.Dispose();
        killed.AssertTidy(Music, Data, made, drop);
        Assert.Empty(KilledServer.FilesIn(drop));
        var numbers = Enumerable.Range(1, files).ToList();
        var names = KilledServer.FilesIn(made).Select(path => Path.GetFileName(path)).Order(StringComparer.Ordinal);
        Assert.Equal(numbers.Select(number => NameOf(number, ".flac")), names);
        var lengths = KilledServer.FilesIn(Path.Combine(Data, "trash")).Select(path => (int)new FileInfo(path).Length).Order();
        Assert.Equal(numbers.Select(number => SoundOf(number).Length).Order(), lengths);

        void Drop()
        {
            files++;
            File.WriteAllBytes(Path.Combine(drop, NameOf(files, ".wav")), SoundOf(files));
        }
    }

    private static string NameOf(int number, string extension) =>
        $"{number.ToString("00", CultureInfo.InvariantCulture)} Dropped{extension}";

    /// <summary>Each a little longer than the one before.</summary>
    private static byte[] SoundOf(int number) => Sound(1 + 0.1 * number);
}
