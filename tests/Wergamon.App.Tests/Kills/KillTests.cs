using System.Globalization;
using System.Text.Json;
using Wergamon.Core.Formats.Registry;
using Wergamon.Core.Sticks;
using Wergamon.Core.Tags;
using Wergamon.Testing.Outside;

namespace Wergamon.App.Tests.Kills;

/// <summary>
/// The real server, killed again and again: after each kill another one continues, and in the end everything is there once, complete, and
/// nothing else is.
/// </summary>
public sealed class KillTests(ITestOutputHelper output) : KillTrial(output)
{
    /// <summary>In the runs that are cut off.</summary>
    private static readonly int Tracks = Kills > 2 ? 60 : 10;

    [Fact]
    public async Task Conversions_survive_kills_of_the_server()
    {
        var sums = MakeTracks(Tracks);
        using var killed = NewServer();
        await StartRunAsync(killed, Tracks);
        for (int kill = 0; kill < Kills; kill++)
            await killed.KillAsync(50, 1500);
        await killed.UntilDoneAsync();
        killed.Dispose();
        AssertConverted(killed, sums);
    }

    /// <summary>Each original goes to the trash once, and only when its copy is there with the same sound.</summary>
    [Fact]
    public async Task Originals_moved_to_the_trash_survive_kills_of_the_server()
    {
        var sums = MakeTracks(Tracks);
        var sounds = KilledServer.FilesIn(Music).Select(path => LibSndFile.Decode(path).Samples).ToList();
        using var killed = NewServer();
        await killed.Session.UntilAsync("/library/tracks?handler=Total", $"{Tracks}");
        var plan = await killed.Session.PostAsync("/library/tracks", "/convert?handler=Create", ("list", "?"));
        await killed.Session.PostAsync(plan, plan + "?handler=Target", ("target", "archive"));
        await killed.Session.PostAsync(plan, plan + "?handler=Settings", ("Originals", "TrashAfterProof"));
        Assert.Equal("/runs/1", await killed.Session.PostAsync(plan, plan + "?handler=Run"));
        for (int kill = 0; kill < Kills; kill++)
        {
            await killed.KillAsync(50, 1000);
            // An original is in its place or in the trash, at every moment.
            Assert.Equal(Tracks, KilledServer.FilesIn(Music).Concat(KilledServer.FilesIn(Path.Combine(Data, "trash"))).Count());
        }

        await killed.UntilDoneAsync();
        killed.Dispose();
        killed.AssertTidy(Music, Data);
        Assert.Empty(KilledServer.FilesIn(Music));
        Assert.Equal(sums.Order(), KilledServer.FilesIn(Path.Combine(Data, "trash")).Select(Sum).Order());
        Assert.Equal(Tracks, killed.Ask<int>("SELECT COUNT(*) FROM trash_item"));
        Assert.Equal(sounds, KilledServer.FilesIn(Path.Combine(Data, "converted")).Select(path => LibFlac.Decode(path).Samples));
        Assert.Equal(Tracks, killed.Ask<int>("SELECT COUNT(*) FROM copy WHERE NOT is_missing AND NOT is_trashed"));
    }

    /// <summary>A track whose worker is killed fails with its reason, and is made on Retry.</summary>
    [Fact]
    public async Task Conversions_survive_kills_of_workers()
    {
        var sums = MakeTracks(Tracks);
        using var killed = NewServer();
        await StartRunAsync(killed, Tracks);
        for (int kill = 0; kill < 2 * Kills; kill++)
            await killed.KillWorkerAsync(50, 400);
        await killed.UntilDoneAsync(retries: true);
        killed.Dispose();
        AssertConverted(killed, sums);
    }

    /// <summary>
    /// A stick is filled, gets other tags in the order of writing, and other names, all of it cut off: in the end each file is there once,
    /// whole, in its turn, and nothing else is.
    /// </summary>
    [Fact]
    public async Task A_stick_survives_kills_of_the_server()
    {
        const int Files = 8;
        MakeTracks(Files);
        var place = Directory.CreateDirectory(Path.Combine(Data, "media")).FullName;
        using var killed = NewServer();
        await killed.Session.UntilAsync("/library/tracks?handler=Total", $"{Files}");
        var here = await killed.Session.PostAsync("/deliver", "/deliver?handler=Stick", ("place", place), ("device", "mp3-player"));
        await killed.Session.PostAsync("/library/tracks", "/deliver?handler=Tracks&kind=Stick&stick=1", ("list", "?"));
        await UpdateAsync(1);
        var lengths = Made().Select(LibMpg123.CountFrames).Order().ToList();
        Assert.Equal(Files, lengths.Count);

        // Smaller artwork and another version of tags: all are tagged and placed again.
        await killed.Session.PostAsync(here, "/deliver/devices/mp3-player?handler=Settings", ("tagVersion", "4"), ("maxKilobits", "320"));
        await UpdateAsync(2);
        // Other names.
        await killed.Session.PostAsync(
            here, "/deliver/devices/mp3-player?handler=Settings", ("tagVersion", "4"), ("maxKilobits", "320"),
            ("names", "{title} {track:000}"));
        await UpdateAsync(3);
        killed.Dispose();
        killed.AssertTidy(Music);
        var made = Made();
        Assert.Equal(lengths, made.Select(LibMpg123.CountFrames).Order());
        Assert.All(
            made, path => Assert.StartsWith(TagsOf(path).First(FieldNames.Title)!, Path.GetFileName(path), StringComparison.Ordinal));
        Assert.Equal(Files, killed.Ask<int>("SELECT COUNT(*) FROM stick_file"));
        Assert.Equal([Path.Combine(place, StickMark.FileName)], Directory.EnumerateFiles(place));
        Assert.DoesNotContain(KilledServer.FilesIn(Path.Combine(Data, "delivery-spool")), _ => true);

        async Task UpdateAsync(int run)
        {
            await killed.Session.PostAsync(here, here + "?handler=Update");
            for (int kill = 0; kill < Kills; kill++)
                await killed.KillAsync(20, 600);
            await killed.UntilDoneAsync();
            await killed.Session.UntilAsync(here, "Everything on the stick is up to date");
        }

        IReadOnlyList<string> Made() => [.. KilledServer.FilesIn(place).Where(path => Path.GetFileName(path) != StickMark.FileName)];
    }

    /// <summary>
    /// Every source takes the name of the next one, the last that of the first: tags are written and all files of the mirror change places.
    /// </summary>
    [Fact]
    public async Task A_mirror_survives_kills_of_the_server()
    {
        const int Files = 10;
        MakeTracks(Files);
        using var killed = NewServer();
        await killed.Session.UntilAsync("/library/tracks?handler=Total", $"{Files}");
        var plan = await killed.Session.PostAsync("/library/tracks", "/convert?handler=Create", ("list", "?"));
        Assert.Equal("/convert/mirrors/1", await killed.Session.PostAsync(plan, plan + "?handler=Keep"));
        await killed.Session.PostAsync("/convert/mirrors/1", "/convert/mirrors/1?handler=Update");
        await killed.UntilDoneAsync();
        var before = Made().ToDictionary(path => path, LibMpg123.CountFrames);

        // A scan between two renames would take some names for changed sound.
        await killed.Session.PostAsync("/library/folders", "/library/folders?handler=Pause", ("id", "1"), ("pause", "true"));
        var names = KilledServer.FilesIn(Music);
        foreach (var path in names)
            File.Move(path, path + ".moving");
        for (int i = 0; i < Files; i++)
            File.Move(names[i] + ".moving", names[(i + 1) % Files]);
        await killed.Session.PostAsync("/library/folders", "/library/folders?handler=Pause", ("id", "1"), ("pause", "false"));
        await killed.Session.UntilAsync("/convert/mirrors/1", $"Tags changed <span class=\"digits\">{Files}<");
        await killed.Session.PostAsync("/convert/mirrors/1", "/convert/mirrors/1?handler=Update");
        for (int kill = 0; kill < Kills; kill++)
            await killed.KillAsync(1, 150);
        await killed.UntilDoneAsync();
        await killed.Session.UntilAsync("/convert/mirrors/1", $"All {Files} files are up to date");
        killed.Dispose();
        killed.AssertTidy(Music, Data);
        var made = Made();
        Assert.Equal(before.Keys, made);
        Assert.Equal(made.Select((_, i) => before[made[(i + Files - 1) % Files]]), made.Select(LibMpg123.CountFrames));
        Assert.All(made, path => Assert.Equal(Path.GetFileNameWithoutExtension(path), TagsOf(path).First(FieldNames.Title)));
        Assert.Empty(KilledServer.FilesIn(Path.Combine(Data, "trash")));

        IReadOnlyList<string> Made() => KilledServer.FilesIn(Path.Combine(Data, "converted"));
    }

    private static async Task StartRunAsync(KilledServer killed, int tracks)
    {
        await killed.Session.UntilAsync("/library/tracks?handler=Total", tracks.ToString(CultureInfo.InvariantCulture));
        var ids = JsonSerializer.Deserialize<long[]>(
            await killed.Session.GetAsync($"/library/tracks?handler=Ids&offset=0&count={tracks}"))!;
        var plan = await killed.Session.PostAsync("/library/tracks", "/convert?handler=Create", ("numbers", string.Join(',', ids)));
        Assert.Equal("/runs/1", await killed.Session.PostAsync(plan, plan + "?handler=Run"));
    }

    private void AssertConverted(KilledServer killed, IReadOnlyList<string> sums)
    {
        killed.AssertTidy(Music, Data);
        Assert.Equal(sums, KilledServer.FilesIn(Music).Select(Sum));
        var made = KilledServer.FilesIn(Path.Combine(Data, "converted"));
        Assert.Equal(sums.Count, made.Count);
        foreach (var (path, number) in made.Zip(Enumerable.Range(1, sums.Count)))
        {
            using var stream = File.OpenRead(path);
            Assert.Empty(FileReading.Read(stream).Damage);
            Assert.Equal(FramesOf(number), LibMpg123.CountFrames(path));
        }

        Assert.Equal(sums.Count, killed.Ask<int>("SELECT COUNT(*) FROM run_item WHERE state = 'done'"));
        Assert.Equal(2 * sums.Count, killed.Ask<int>("SELECT COUNT(*) FROM copy WHERE NOT is_missing"));
    }

    private static long FramesOf(int number) => (5 + number) * 44_100L;
}
