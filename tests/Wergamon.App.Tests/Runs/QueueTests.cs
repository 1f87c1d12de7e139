using System.Diagnostics;
using Wergamon.App.Copies;
using Wergamon.App.Runs;
using Wergamon.App.Workers;
using Wergamon.Testing;

namespace Wergamon.App.Tests.Runs;

/// <summary>Several runs: their order, pausing, how much of the machine they take.</summary>
public sealed class QueueTests
{
    [Fact]
    public async Task Runs_take_their_turns_in_the_order_that_was_chosen()
    {
        await using var app = new RunningApp(options => options with { WorkerCount = 1 });
        await app.StartAsync();
        for (int number = 1; number <= 3; number++)
            app.AddTrack(number, 20);
        await app.ScanAsync();
        long[] runs = [app.Run(app.Plan("pocket-player")), app.Run(app.Plan("phone")), app.Run(app.Plan("small-share"))];
        app.Get<RunScheduler>().Move(runs[2], isEarlier: true);
        app.Get<RunScheduler>().Move(runs[2], isEarlier: true);
        Assert.Equal([runs[2], runs[0], runs[1]], app.Get<RunStore>().InState(RunState.Running).Select(run => run.Id));
        foreach (long run in runs)
            await app.EndAsync(run);
        Assert.Equal([runs[2], runs[0], runs[1]], runs.OrderBy(run => app.Get<RunStore>().Get(run)!.EndedAt));
    }

    [Fact]
    public async Task A_paused_run_finishes_what_is_under_way_and_no_more()
    {
        await using var app = new RunningApp(options => options with { WorkerCount = 1 });
        await app.StartAsync();
        for (int number = 1; number <= 3; number++)
            app.AddTrack(number, 20);
        await app.ScanAsync();
        long run = app.Run(app.Plan("pocket-player"));
        await RunningApp.UntilAsync(() => app.Get<RunStore>().Items(run).Any(item => item.State == ItemState.Working));
        app.Get<RunScheduler>().Pause(run);
        await RunningApp.UntilAsync(() => app.Get<RunStore>().Items(run).All(item => item.State != ItemState.Working));
        var (done, waiting) = (
            app.Get<RunStore>().Items(run).Count(item => item.State == ItemState.Done),
            app.Get<RunStore>().Items(run).Count(item => item.State == ItemState.Waiting));
        Assert.InRange(done, 1, 2);
        Assert.Equal(3, done + waiting);
        app.Get<RunScheduler>().Continue(run);
        Assert.All(await app.EndAsync(run), item => Assert.Equal(ItemState.Done, item.State));
    }

    [Fact]
    public async Task Quiet_runs_have_one_worker_at_low_priority()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        for (int number = 1; number <= 3; number++)
            app.AddTrack(number, 20);
        await app.ScanAsync();
        app.Get<RunScheduler>().ChooseWorkers(0);
        long run = app.Run(app.Plan("pocket-player"));
        int[] busy = [];
        await RunningApp.UntilAsync(() => (busy = [.. app.Get<WorkerPool>().BusyProcessIds(WorkerPriority.Requested)]).Length > 0);
        Assert.Single(busy);
        using (var worker = Process.GetProcessById(busy[0]))
            Assert.Equal(ProcessPriorityClass.BelowNormal, worker.PriorityClass);
        // The choice can be changed at any time, and outlives a restart.
        app.Get<RunScheduler>().ChooseWorkers(2);
        await RunningApp.UntilAsync(
            () => app.Get<RunStore>().Items(run).Count(item => item.State == ItemState.Working) == 2
                || app.Get<RunStore>().Get(run)!.State == RunState.Done);
        await app.EndAsync(run);
        app.Get<RunScheduler>().ChooseWorkers(0);
        await app.StopAsync();
        await app.StartAsync();
        Assert.True(app.Get<WorkLoad>().IsQuiet);
    }

    [Fact]
    public async Task One_failed_track_is_retried_alone()
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        string[] files = [app.AddTrack(1, 1), app.AddTrack(2, 1)];
        await app.ScanAsync();
        long run = await app.RunAfterAsync(app.Plan("archive"), () =>
        {
            foreach (var file in files)
                File.Move(file, file + ".away");
        });
        await RunningApp.UntilAsync(() => app.Get<RunStore>().Get(run)!.State == RunState.Done);
        foreach (var file in files)
            File.Move(file + ".away", file);
        app.Get<RunScheduler>().Retry(run, app.Get<RunStore>().Items(run)[1].Id);
        var items = await app.EndAsync(run);
        Assert.Equal([ItemState.Failed, ItemState.Done], items.Select(item => item.State));
        var sum = app.Get<RunStore>().Get(run)!;
        Assert.Equal(
            (new FileInfo(files[1]).Length, new FileInfo(CopyResult.Of(items[1])!.Path).Length), (sum.BytesBefore, sum.BytesAfter));
    }

    /// <summary>Whatever the figures say, the time that is shown changes by less than a third from one second to the next.</summary>
    [Fact]
    public void Remaining_time_does_not_jump()
    {
        var time = new ManualTime();
        var steady = new SmoothedEstimate(time);
        var random = new Random(7);
        var before = steady.Next(TimeSpan.FromSeconds(100));
        for (int second = 0; second < 200; second++)
        {
            time.Advance(TimeSpan.FromSeconds(1));
            var now = steady.Next(TimeSpan.FromSeconds(1 + 1000 * random.NextDouble()));
            Assert.InRange(now / before, 2 / 3.0, 4 / 3.0);
            before = now;
        }

        for (int second = 0; second < 60; second++)
        {
            time.Advance(TimeSpan.FromSeconds(1));
            before = steady.Next(TimeSpan.FromSeconds(30));
        }

        Assert.Equal(TimeSpan.FromSeconds(30), before);
    }
}
