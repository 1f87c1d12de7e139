using Dapper;
using Microsoft.Data.Sqlite;
using Wergamon.App.Library;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Testing;

namespace Wergamon.App.Tests;

/// <summary>A disk that is really full: work on it waits, says so, and goes on once there is room.</summary>
public sealed class FullDiskTests
{
    private const long DiskBytes = 12 << 20;

    [Fact]
    public async Task A_run_into_a_full_disk_waits_with_words_and_continues_once_there_is_room()
    {
        Assert.SkipUnless(SmallDisk.CanBeMade, "Only root may mount a file system.");
        using var disk = new SmallDisk(DiskBytes);
        await using var app = new RunningApp(options => options with { AllowedBases = [.. options.AllowedBases, disk.Path] });
        await app.StartAsync();
        for (int number = 1; number <= 3; number++)
            app.AddTrack(number, 8);
        await app.ScanAsync();
        long plan = app.Plan("archive");
        Assert.Null(app.Get<Convert.Plans>().SetOutputFolder(plan, disk.Path));
        long run = app.Get<Convert.Plans>().Start(plan)!.Value;
        // Filled after the plan was made, since the plan itself checks free space.
        disk.Fill();
        app.Get<RunScheduler>().Wake();
        var runs = app.Get<RunStore>();
        await RunningApp.UntilAsync(() => runs.Get(run)!.State == RunState.Stopped);
        Assert.Contains("is full", runs.Get(run)!.StopReason, StringComparison.Ordinal);
        // What other workers were making is cancelled and removed as well.
        await RunningApp.UntilAsync(() => Files(disk).Select(Path.GetFileName).SequenceEqual(["filler"]));

        // Nobody has to continue it.
        disk.Free();
        var items = await app.EndAsync(run);
        Assert.All(items, item => Assert.Equal(ItemState.Done, item.State));
        Assert.Equal(3, Files(disk).Length);
    }

    [Fact]
    public async Task A_scan_on_a_full_data_disk_waits_says_so_and_ends_whole()
    {
        Assert.SkipUnless(SmallDisk.CanBeMade, "Only root may mount a file system.");
        const int Files = 40;
        using var disk = new SmallDisk(DiskBytes);
        await using var app = new RunningApp(options => options with { DataFolder = Path.Combine(disk.Path, "data") });
        await app.StartAsync();
        for (int number = 1; number <= Files; number++)
            app.AddTrack(number, 0.05);
        // What has room in the log of the database would be written on a full disk, too.
        using (var log = new SqliteConnection($"Data Source={app.Options.DatabasePath}"))
            log.Execute("PRAGMA wal_checkpoint(TRUNCATE)");
        disk.Fill();
        var adding = Task.Run(() => app.Get<MusicFolders>().Add(app.Music));
        var database = app.Get<Database>();
        await RunningApp.UntilAsync(() => database.Problem is not null);
        Assert.Contains("full", database.Problem!.Text, StringComparison.Ordinal);

        disk.Free();
        Assert.Null(await adding);
        await app.ScanAsync();
        await RunningApp.UntilAsync(() => database.Problem is null);
        using var connection = database.Open();
        Assert.Equal(Files, connection.ExecuteScalar<int>("SELECT COUNT(*) FROM copy"));
        Assert.Equal("ok", connection.ExecuteScalar<string>("PRAGMA integrity_check"));
    }

    private static string[] Files(SmallDisk disk) => Directory.GetFiles(disk.Path, "*", new EnumerationOptions { RecurseSubdirectories = true, AttributesToSkip = 0 });
}
