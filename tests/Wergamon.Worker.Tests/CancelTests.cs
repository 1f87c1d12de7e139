using Microsoft.Extensions.Logging.Abstractions;
using Wergamon.App.Workers;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Jobs;

namespace Wergamon.Worker.Tests;

public sealed class CancelTests(WorkerFixture worker) : IClassFixture<WorkerFixture>
{
    [Fact]
    public async Task Cancelled_job_ends_and_the_worker_takes_the_next()
    {
        var format = new PcmFormat(SampleRate.AudioDisc, 2, 16);
        var source = worker.MakeWav("long.wav", format, 120 * 44_100, music: true);
        using var process = new WorkerProcess(worker.Options, isLowPriority: false, NullLogger.Instance);
        using var stop = new CancellationTokenSource();
        var job = new ConvertJob(source, format, [], Mp3Settings.Constant(320), worker.Folder["long.mp3"], [], []);
        // The first progress report shows that the job is running.
        Assert.IsType<CancelledReply>(await process.RunAsync(job, _ => stop.Cancel(), stop.Token));
        Assert.True(process.IsAlive);
        var small = worker.MakeWav("small.wav", format, 1000);
        var reply = Assert.IsType<AnalysisReply>(await process.RunAsync(new AnalysisJob(small), _ => { }, CancellationToken.None));
        Assert.Equal(1000, reply.Analysis.FrameCount);
    }

    [Fact]
    public async Task A_worker_ends_with_the_server_that_started_it()
    {
        var format = new PcmFormat(SampleRate.AudioDisc, 2, 16);
        var source = worker.MakeWav("endless.wav", format, 120 * 44_100, music: true);
        using var process = System.Diagnostics.Process.Start(
            new System.Diagnostics.ProcessStartInfo("dotnet", [worker.Options.WorkerPath])
            {
                RedirectStandardInput = true,
                RedirectStandardOutput = true
            })!;
        var job = new ConvertJob(source, format, [], Mp3Settings.Constant(320), worker.Folder["endless.mp3"], [], []);
        await process.StandardInput.WriteLineAsync(System.Text.Json.JsonSerializer.Serialize<WorkerJob>(job, WorkerJson.Default.WorkerJob));
        await process.StandardInput.FlushAsync();
        Assert.NotNull(await process.StandardOutput.ReadLineAsync());
        // As the kernel does to a pipe whose other end was killed.
        process.StandardInput.Close();
        await process.WaitForExitAsync().WaitAsync(TimeSpan.FromMinutes(4));
        Assert.True(process.HasExited);
    }
}
