using System.Globalization;
using System.IO.Compression;
using System.Security.Cryptography;
using Wergamon.Core.Discs.Iso9660;

namespace Wergamon.App.Tests.Kills;

/// <summary>Deliveries while the server is killed: as many files as runs were done, each equal to one of an undisturbed run.</summary>
public sealed class DeliveryKillTests(ITestOutputHelper output) : KillTrial(output)
{
    private const int Tracks = 4;

    private string Made => Directory.CreateDirectory(Folder["made"]).FullName;

    /// <summary>A joined file, an image of an audio disc and one of a data disc, at once and again and again.</summary>
    [Fact]
    public async Task Joined_files_and_images_survive_kills_of_the_server()
    {
        MakeTracks(Tracks);
        using var killed = NewServer();
        await killed.Session.UntilAsync("/library/tracks?handler=Total", $"{Tracks}");
        var joined = await PlanAsync(killed, "Joined");
        await killed.Session.PostAsync(joined, joined + "?handler=Settings", ("Folder", Made));
        var (audio, data) = (await PlanAsync(killed, "Audio"), await PlanAsync(killed, "Data"));
        await StartAsync();
        await killed.UntilDoneAsync();
        var peace = FilesByKind();
        Assert.Equal([".bin", ".cue", ".flac", ".iso"], peace.Keys);
        Assert.Equal(2, peace[".cue"].Count);

        for (int kill = 0; kill < Kills; kill++)
        {
            await StartAsync();
            await killed.KillAsync(1, 1200);
        }

        await StartAsync();
        await killed.UntilDoneAsync();
        killed.Dispose();
        killed.AssertTidy(Music, Data, Made);
        var made = FilesByKind();
        Output.WriteLine(string.Join(", ", made.Select(kind => $"{kind.Value.Count} {kind.Key}")));
        Assert.Equal(killed.Ask<int>("SELECT COUNT(*) FROM run"), made[".bin"].Count + made[".flac"].Count + made[".iso"].Count);
        Assert.Equal(0, killed.Ask<int>("SELECT COUNT(*) FROM run_item WHERE state <> 'done'"));
        foreach (var (kind, files) in made.Where(each => each.Key != ".cue"))
            Assert.Equal([ContentOf(peace[kind][0])], files.Select(ContentOf).Distinct());
        // Each sheet names the file beside it, and says the same otherwise.
        var expected = made[".bin"].Concat(made[".flac"]).Select(file => Path.ChangeExtension(file, ".cue"));
        Assert.Equal(expected.Order(StringComparer.Ordinal), made[".cue"]);
        Assert.Equal(peace[".cue"].Select(SheetOf).Order(), made[".cue"].Select(SheetOf).Distinct().Order());
        Assert.Empty(KilledServer.FilesIn(Path.Combine(Data, "delivery-spool")));

        async Task StartAsync()
        {
            await killed.Session.PostAsync(joined, joined + "?handler=Make");
            await killed.Session.PostAsync(audio, audio + "?handler=Image", ("folder", Made));
            await killed.Session.PostAsync(data, data + "?handler=Image", ("folder", Made));
        }
    }

    /// <summary>Files to be downloaded, made again and again: what is downloaded in the end is the same as in peace.</summary>
    [Fact]
    public async Task Files_to_download_survive_kills_of_the_server()
    {
        MakeTracks(Tracks);
        using var killed = NewServer();
        await killed.Session.UntilAsync("/library/tracks?handler=Total", $"{Tracks}");
        var zip = await PlanAsync(killed, "Zip");
        await killed.Session.PostAsync(zip, zip + "?handler=Make");
        await killed.UntilDoneAsync();
        var peace = await DownloadAsync();
        Assert.Equal(Tracks, peace.Count(entry => entry.EndsWith(".mp3", StringComparison.Ordinal)));
        for (int kill = 0; kill < Kills; kill++)
        {
            await killed.Session.PostAsync(zip, zip + "?handler=Make");
            await killed.KillAsync(1, 1200);
            await killed.UntilDoneAsync();
            Assert.Equal(peace, await DownloadAsync());
        }

        killed.Dispose();
        killed.AssertTidy(Music, Data);
        var made = KilledServer.FilesIn(Path.Combine(Data, "delivery-spool")).Select(path => Path.GetFileName(path));
        Assert.Equal(
            peace.Select(entry => entry.Split(' ', 2)[1]).Where(name => name.EndsWith(".mp3", StringComparison.Ordinal)),
            made.Order(StringComparer.Ordinal));

        async Task<IReadOnlyList<string>> DownloadAsync()
        {
            using var archive = new ZipArchive(new MemoryStream(await killed.Session.GetBytesAsync(zip + "?handler=File")));
            return [.. archive.Entries.Select(entry =>
            {
                using var content = entry.Open();
                return $"{System.Convert.ToHexString(SHA256.HashData(content))} {entry.FullName}";
            }).OrderBy(entry => entry.Split(' ', 2)[1], StringComparer.Ordinal)];
        }
    }

    /// <summary>A kill spoils the disc that is being written: another one is inserted, and in the end there is one complete disc.</summary>
    /// <param name="kind">Of the disc.</param>
    /// <param name="ending">Of its image.</param>
    [Theory]
    [InlineData("Audio", ".bin")]
    [InlineData("Data", ".iso")]
    public async Task A_burn_survives_kills_of_the_server(string kind, string ending)
    {
        MakeTracks(Tracks, seconds: 15);
        using var killed = NewServer(speedup: kind == "Data" ? 1 : 4);
        await killed.Session.UntilAsync("/library/tracks?handler=Total", $"{Tracks}");
        var plan = await PlanAsync(killed, kind);
        await killed.Session.PostAsync(plan, plan + "?handler=Image", ("folder", Made));
        await killed.UntilDoneAsync();
        var image = ContentOf(Assert.Single(FilesByKind()[ending]));
        await killed.Session.PostAsync(plan, plan + "?handler=Insert", ("burner", "C"), ("disc", "blank-80"));
        await killed.Session.PostAsync(plan, plan + "?handler=Burn");
        for (int kill = 0; kill < Kills; kill++)
        {
            await killed.KillAsync(50, 1200);
            await HelpAsync();
        }

        var end = DateTime.UtcNow.AddMinutes(3);
        while (killed.Ask<int>("SELECT COUNT(*) FROM run WHERE state = 'done'") < 2)
        {
            Assert.True(DateTime.UtcNow < end, killed.Ask<string>("SELECT stop_reason FROM run WHERE id = 2"));
            await HelpAsync();
            await Task.Delay(200);
        }

        killed.Dispose();
        killed.AssertTidy(Music, Data);
        var burned = KilledServer.FilesIn(Path.Combine(Data, "burned"));
        Assert.Single(burned, path => path.EndsWith(".cue", StringComparison.Ordinal));
        Assert.DoesNotContain(burned, path => path.EndsWith(".part", StringComparison.Ordinal));
        Assert.Equal(image, ContentOf(Assert.Single(burned, path => path.EndsWith(".bin", StringComparison.Ordinal))));
        Assert.Empty(KilledServer.FilesIn(Path.Combine(Data, "delivery-spool")));

        // As the page asks: another blank for one that is spoiled, and the burned disc where it only has to be read back.
        async Task HelpAsync()
        {
            if (killed.Ask<string>("SELECT state FROM run WHERE id = 2") != "stopped")
                return;
            var written = KilledServer.FilesIn(Path.Combine(Data, "burned")).FirstOrDefault(path => Path.GetExtension(path) == ".cue");
            var disc = written is null ? "blank-80" : Path.GetFileNameWithoutExtension(written);
            await killed.Session.PostAsync(plan, plan + "?handler=Insert", ("burner", "C"), ("disc", disc));
            await killed.Session.PostAsync(plan, plan + "?handler=Continue");
        }
    }

    /// <summary>Music that somebody put on the stick is taken into the library, each file once.</summary>
    [Fact]
    public async Task Music_from_a_stick_survives_kills_of_the_server()
    {
        const int Files = 12;
        MakeTracks(1);
        var place = Directory.CreateDirectory(Path.Combine(Data, "media")).FullName;
        using var killed = NewServer();
        await killed.Session.UntilAsync("/library/tracks?handler=Total", "1");
        var stick = await killed.Session.PostAsync("/deliver", "/deliver?handler=Stick", ("place", place), ("device", "phone"));
        var theirs = Enumerable.Range(1, Files)
            .Select(number => $"Theirs/{number.ToString("00", CultureInfo.InvariantCulture)}.wav")
            .ToList();
        Directory.CreateDirectory(Path.Combine(place, "Theirs"));
        foreach (var (name, number) in theirs.Zip(Enumerable.Range(1, Files)))
            File.WriteAllBytes(Path.Combine(place, name), Sound(20 + number));
        var before = KilledServer.FilesIn(place).ToDictionary(path => path, Sum);
        for (int kill = 0; kill <= Kills; kill++)
        {
            await killed.TryPostAsync(stick, stick + "?handler=Import", [("folder", "1"), .. theirs.Select(name => ("path", name))]);
            if (kill < Kills)
                await killed.KillAsync(1, 300);
        }

        await killed.UntilDoneAsync();
        killed.Dispose();
        killed.AssertTidy(Music);
        Assert.Equal(before, KilledServer.FilesIn(place).ToDictionary(path => path, Sum));
        var taken = KilledServer.FilesIn(Music).Where(path => Path.GetDirectoryName(path) != Music).Select(Sum);
        Assert.Equal(theirs.Select(name => before[Path.Combine(place, name)]).Order(), taken.Order());
    }

    private static async Task<string> PlanAsync(KilledServer killed, string kind) =>
        await killed.Session.PostAsync("/library/tracks", $"/deliver?handler=Tracks&kind={kind}", ("list", "?"));

    private SortedDictionary<string, List<string>> FilesByKind() => new(
        KilledServer.FilesIn(Made).GroupBy(path => Path.GetExtension(path)).ToDictionary(group => group.Key, group => group.ToList()),
        StringComparer.Ordinal);

    /// <summary>The bytes of a file; of a data disc, whose volume says when it was made, those of its files.</summary>
    private static string ContentOf(string path)
    {
        using var stream = File.OpenRead(path);
        if (!path.EndsWith(".iso", StringComparison.Ordinal) && !path.EndsWith(".bin", StringComparison.Ordinal)
            || IsoVolume.TryRead(stream) is not { } volume)
            return Sum(path);
        Assert.Empty(volume.Damage);
        return string.Join('\n', volume.Files.Select(file =>
        {
            using var bytes = volume.Open(file);
            return $"{file.Path} {System.Convert.ToHexString(SHA256.HashData(bytes))}";
        }));
    }

    /// <summary>A cue sheet without the number in the name of its file.</summary>
    private static string SheetOf(string path)
    {
        var name = Path.GetFileNameWithoutExtension(path);
        return File.ReadAllText(path).Replace(name, name.Split(" (")[0], StringComparison.Ordinal);
    }
}
