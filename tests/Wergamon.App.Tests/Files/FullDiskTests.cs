using Dapper;
using Microsoft.Data.Sqlite;
using Wergamon.App.Library.Scan;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Files;

/// <summary>A disk that is really full: work on it waits, says so, and goes on once there is room.</summary>
public sealed class FullDiskTests
{
    private const long DiskBytes = 12 << 20;

    [Fact]
    public async Task Run_waits_on_a_full_disk_and_continues_with_space()
    {
        Assert.SkipUnless(SmallDisk.CanBeMade, "Only root may mount a file system.");
        using var disk = new SmallDisk(DiskBytes);
        await using var app = new RunningApp(options => options with { AllowedBases = [.. options.AllowedBases, disk.Path] });
        await app.StartAsync();
        for (int number = 1; number <= 3; number++)
            app.AddTrack(number, 8);
        await app.ScanAsync();
        long plan = app.Plan("archive");
        Assert.Null(app.Get<App.Convert.Plans>().SetOutputFolder(plan, disk.Path));
        // Filled after the plan was made, since the plan itself checks free space.
        long run = await app.RunAfterAsync(plan, disk.Fill);
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

    /// <summary>
    /// A folder that was written to and is gone, or empty as the place of a drive is, is waited for; nothing is written in its place.
    /// </summary>
    [Fact]
    public async Task Run_waits_for_a_missing_destination_and_continues_when_it_is_back()
    {
        await using var app = new RunningApp(options => options with { WorkerCount = 1 });
        await app.StartAsync();
        for (int number = 1; number <= 3; number++)
            app.AddTrack(number, 20);
        await app.ScanAsync();
        long run = app.Run(app.Plan("archive"));
        var runs = app.Get<RunStore>();
        await RunningApp.UntilAsync(() => runs.Items(run).Any(item => item.State == ItemState.Done));
        app.Get<RunScheduler>().Stop(run);
        await RunningApp.UntilAsync(() => runs.Items(run).All(item => item.State != ItemState.Working));
        int made = app.OutputFiles().Count();
        Directory.Move(app.Output, app.Output + "-away");
        app.Get<RunScheduler>().Continue(run);
        await RunningApp.UntilAsync(() => runs.Get(run) is { State: RunState.Stopped, StopReason: not null });
        Assert.Contains("connect it again", runs.Get(run)!.StopReason, StringComparison.Ordinal);
        Assert.False(Directory.Exists(app.Output));
        Directory.CreateDirectory(app.Output);
        app.Get<RunScheduler>().Continue(run);
        await RunningApp.UntilAsync(() => runs.Get(run) is { State: RunState.Stopped, StopReason: not null });
        Assert.Empty(Directory.EnumerateFileSystemEntries(app.Output));

        Directory.Delete(app.Output);
        Directory.Move(app.Output + "-away", app.Output);
        var items = await app.EndAsync(run);
        Assert.All(items, item => Assert.Equal(ItemState.Done, item.State));
        Assert.InRange(made, 1, 2);
        Assert.Equal(3, app.OutputFiles().Count());
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
        using (var log = new SqliteConnection($"Data Source={app.Options.Folders.Database}"))
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

    private static string[] Files(SmallDisk disk) =>
        Directory.GetFiles(disk.Path, "*", new EnumerationOptions { RecurseSubdirectories = true, AttributesToSkip = 0 });
}
