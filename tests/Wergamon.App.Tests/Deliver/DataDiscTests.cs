using System.IO.Hashing;
using System.Text.Json;
using Dapper;
using Wergamon.App.Copies;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Tracks;
using Wergamon.Core.Discs.Iso9660;

namespace Wergamon.App.Tests.Deliver;

/// <summary>Discs of files: made by a target, in order, with a playlist, to a burner or an image.</summary>
public sealed class DataDiscTests
{
    private static readonly string[] Names = [
        "001 The Quarry Lamps - Track 2.mp3", "002 The Quarry Lamps - Track 1.mp3", "003 The Quarry Lamps - Track 2.mp3", "Carts.m3u8"
    ];

    [Fact]
    public async Task A_data_disc_holds_its_files_in_order_with_a_playlist()
    {
        await using var app = new RunningApp();
        long disc = await PlanAsync(app);
        var (discs, bay) = (app.Get<DataDiscs>(), app.Get<BurnerBay>());
        var view = app.Get<DataDiscViews>().View(disc)!;
        Assert.Equal(Names[..3], view.Files.Select(file => file.Planned!.RelativePath));
        Assert.Equal("Put a blank disc into Burner C first.", discs.Burn(disc).Problem);
        bay.Insert("C", "dvd");
        var items = await app.EndAsync(discs.Burn(disc).RunId!.Value);
        Assert.All(items, item => Assert.Equal(ItemState.Done, item.State));
        using var burned = new Wergamon.Devices.Drives.DiscRack(app.Options.Folders.Burned).Take(bay.Written()[0].Key)!;
        using var data = burned.OpenData();
        var volume = IsoVolume.TryRead(data)!;
        Assert.Equal(("Carts", 0), (volume.Label, volume.Damage.Count));
        Assert.Equal(Names, volume.Files.Select(file => file.Path));
        using var list = new StreamReader(volume.Open(volume.Files[3]));
        var text = await list.ReadToEndAsync();
        Assert.Contains("#EXTINF:3,The Quarry Lamps - Track 2\n001 The Quarry Lamps - Track 2.mp3", text, StringComparison.Ordinal);
        // The estimate was right to a few sectors: 192 kbit/s are constant.
        Assert.InRange(view.Sectors - data.Length / 2048, -8, 8);
        await RunningApp.UntilAsync(() => Directory.GetDirectories(app.Options.Folders.DeliverySpool).Length == 0);
    }

    /// <param name="isSame">Whether the disc reads back as it was written.</param>
    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public async Task Disc_that_was_finished_when_the_server_ended_is_only_read_back(bool isSame)
    {
        await using var app = new RunningApp();
        long disc = await PlanAsync(app);
        app.Get<BurnerBay>().Insert("C", "dvd");
        var items = await app.EndAsync(app.Get<DataDiscs>().Burn(disc).RunId!.Value);
        var burn = items.Single(DataDiscHandler.ItemKind.Is);
        var key = Assert.Single(app.Get<BurnerBay>().Written()).Key;
        var sum = XxHash128.Hash(await File.ReadAllBytesAsync(Path.Combine(app.Options.Folders.Burned, key + ".bin")));
        sum[0] ^= (byte)(isSame ? 0 : 1);

        // As it was at the moment after the disc had its lead-out, with the files that it was made of.
        app.Get<Settings>().Write(
            "burner C", new TrayContents("dvd", key) { IsBeingWritten = true }, DiscRunsJson.Default.TrayContents);
        var checkpoint = JsonSerializer.Serialize(new WrittenDataDisc(key, sum), DiscRunsJson.Default.WrittenDataDisc);
        app.Get<Database>().Change(connection =>
        {
            connection.Execute("UPDATE run SET state = 'running', ended_at = NULL WHERE id = @RunId", new { burn.RunId });
            connection.Execute(
                "UPDATE run_item SET state = 'working', checkpoint = @checkpoint, result = NULL WHERE id = @Id",
                new { burn.Id, checkpoint });
        });
        foreach (var path in items.Where(DeliverFileHandler.ItemKind.Is).Select(item => CopyResult.Of(item)!.Path))
        {
            Directory.CreateDirectory(Path.GetDirectoryName(path)!);
            await File.WriteAllBytesAsync(path, new byte[100]);
        }

        await app.StopAsync();
        await app.StartAsync();
        var ended = (await app.EndAsync(burn.RunId)).Single(DataDiscHandler.ItemKind.Is);
        Assert.Equal(isSame ? ItemState.Done : ItemState.Failed, ended.State);
        Assert.Equal(key, Assert.Single(app.Get<BurnerBay>().Written()).Key);
    }

    [Fact]
    public async Task An_image_is_what_xorriso_reads_and_its_files_are_the_tracks()
    {
        await using var app = new RunningApp();
        long disc = await PlanAsync(app);
        app.Get<DataDiscs>()
            .SetSettings(
                disc,
                new DataDiscSettings
                {
                    TargetKey = "plain",
                    Names = "{artist}/{album}/{track:00} {title}",
                    IsNumbered = false,
                    HasPlaylist = false,
                    ImageFolder = app.Output
                });
        Assert.All(
            await app.EndAsync(app.Get<DataDiscs>().WriteImage(disc).RunId!.Value), item => Assert.Equal(ItemState.Done, item.State));
        Assert.Equal(["Carts.iso"], app.OutputFiles());
        using (var process = System.Diagnostics.Process.Start(
            new System.Diagnostics.ProcessStartInfo(
                "xorriso",
                [
                    "-osirrox", "on", "-indev", Path.Combine(app.Output, "Carts.iso"), "-extract", "/", app.Folder["out"]
                ])
            { RedirectStandardError = true })!)
        {
            await process.StandardError.ReadToEndAsync();
            await process.WaitForExitAsync();
            Assert.Equal(0, process.ExitCode);
        }

        // The track that is there twice is numbered the second time.
        var made = Directory.GetFiles(app.Folder["out"], "*", SearchOption.AllDirectories)
            .Select(path => Path.GetRelativePath(app.Folder["out"], path))
            .Order(StringComparer.Ordinal)
            .ToList();
        Assert.Equal(
            [
                "The Quarry Lamps/Night Shift/01 Track 1.wav", "The Quarry Lamps/Night Shift/02 Track 2 (2).wav",
                "The Quarry Lamps/Night Shift/02 Track 2.wav"
            ],
            made);
        var masters = app.Get<LibraryQueries>().TracksOfAlbum(1).ToDictionary(track => track.Title, track => track.Master.Path);
        Assert.Equal(WavSamples.Of(masters["Track 1"]), WavSamples.Of(Path.Combine(app.Folder["out"], made[0])));
        Assert.Equal(WavSamples.Of(masters["Track 2"]), WavSamples.Of(Path.Combine(app.Folder["out"], made[1])));
    }

    [Fact]
    public async Task A_disc_is_used_once_and_a_data_disc_takes_no_audio()
    {
        await using var app = new RunningApp();
        long disc = await PlanAsync(app);
        var bay = app.Get<BurnerBay>();
        bay.Insert("C", "blank-80");
        long run = app.Get<DataDiscs>().Burn(disc).RunId!.Value;
        Assert.All(await app.EndAsync(run), item => Assert.Equal(ItemState.Done, item.State));
        Assert.Equal("Put a blank disc into Burner C first.", app.Get<DataDiscs>().Burn(disc).Problem);
        var audio = app.Get<AudioDiscs>().Create(null, [1]);
        bay.Insert("C", "dvd");
        Assert.Contains("holds data, not audio tracks", app.Get<AudioDiscs>().Burn(audio).Problem, StringComparison.Ordinal);
    }

    private static async Task<long> PlanAsync(RunningApp app)
    {
        app.AddTrack(1, 2);
        app.AddTrack(2, 3);
        await app.StartAsync();
        await app.ScanAsync();
        var tracks = app.Get<LibraryQueries>().TracksOfAlbum(Assert.Single(app.Get<LibraryQueries>().Albums()).Id);
        return app.Get<DataDiscs>().Create("Carts", [tracks[1].Id, tracks[0].Id, tracks[1].Id]);
    }
}
