using System.Diagnostics;
using Wergamon.App.Copies;
using Wergamon.App.Library.Listening;
using Wergamon.App.Tracks;
using Wergamon.App.Workers;

namespace Wergamon.App.Tests.Library;

/// <summary>Analysis of all copies in the background.</summary>
public sealed class BackgroundAnalysisTests
{
    [Fact]
    public async Task During_conversions_only_awaited_analyses_run()
    {
        await using var app = new RunningApp();
        foreach (int number in new[] { 1, 2, 3 })
            app.AddTrack(number, seconds: 0.5);
        await app.StartAsync();
        var (pool, analysis) = (app.Get<WorkerPool>(), app.Get<BackgroundAnalysis>());
        var (first, second) = (pool.PauseBackground(), pool.PauseBackground());
        await app.ScanAsync();
        var track = app.Get<LibraryQueries>().TracksOfAlbum(Assert.Single(app.Get<LibraryQueries>().Albums()).Id)[0];
        Assert.NotEmpty((await analysis.WaveformAsync(track.Master, CancellationToken.None))!);
        Assert.Equal(2, analysis.CountLeft());
        first.Dispose();
        Assert.NotEqual(0, analysis.CountLeft());
        second.Dispose();
        await RunningApp.UntilAsync(() => analysis.CountLeft() == 0 && !analysis.IsUnderWay);
    }

    /// <summary>
    /// A copy with the samples of an analysed source takes its analysis over, and says the truth where the source has changed in between.
    /// </summary>
    [Fact]
    public async Task Copy_with_equal_samples_shares_the_analysis()
    {
        await using var app = new RunningApp();
        var source = app.AddTrack(1, seconds: 2);
        await app.StartAsync();
        await app.ScanAsync();
        var analysis = app.Get<BackgroundAnalysis>();
        await RunningApp.UntilAsync(() => analysis.CountLeft() == 0 && !analysis.IsUnderWay);
        long master = MasterOf(app).Id;
        Assert.NotNull(app.Get<LibraryQueries>().DigestOf(master));
        using (app.Get<WorkerPool>().PauseBackground())
        {
            var item = Assert.Single(await app.EndAsync(app.Run(app.Plan("archive"))));
            var copy = CopyResult.Of(item)!;
            Assert.Equal(app.Get<LibraryQueries>().DigestOf(master), app.Get<LibraryQueries>().DigestOf(copy.CopyId!.Value));
            Assert.Equal(copy.Proof.SampleMd5, app.Get<LibraryQueries>().DigestOf(master));
            Assert.Equal(
                await analysis.WaveformAsync(MasterOf(app), CancellationToken.None),
                await analysis.WaveformAsync(app.Get<LibraryQueries>().Copy(copy.CopyId.Value)!, CancellationToken.None));

            // As long as before, and not scanned since.
            var bytes = File.ReadAllBytes(source);
            bytes[^1000] ^= 0x55;
            File.WriteAllBytes(source, bytes);
            File.SetLastWriteTimeUtc(source, new DateTime(2020, 1, 1, 0, 0, 0, DateTimeKind.Utc));
            Assert.Null(app.Get<LibraryQueries>().DigestOf(master));
        }
    }

    /// <summary>A worker may be lost for other reasons, so a file is to blame only for the third that it costs.</summary>
    [Theory]
    [InlineData(2)]
    [InlineData(3)]
    public async Task File_is_blamed_for_the_third_lost_worker(int losses)
    {
        await using var app = new RunningApp(options => options with { WorkerCount = 1 });
        app.AddTrack(1, seconds: 600);
        await app.StartAsync();
        await app.ScanAsync();
        var (pool, analysis) = (app.Get<WorkerPool>(), app.Get<BackgroundAnalysis>());
        int lost = 0;
        for (int loss = 0; loss < losses; loss++)
        {
            await RunningApp.UntilAsync(() => pool.BusyProcessIds(WorkerPriority.Background).Any(process => process != lost));
            lost = pool.BusyProcessIds(WorkerPriority.Background).Single();
            Process.GetProcessById(lost).Kill();
        }

        await RunningApp.UntilAsync(() => analysis.CountLeft() == 0 && !analysis.IsUnderWay);
        var copy = MasterOf(app);
        if (losses < 3)
            Assert.Equal((null, true), (copy.Sound.Damage, app.Get<LibraryQueries>().DigestOf(copy.Id) is not null));
        else
            Assert.Contains("The worker crashed", copy.Sound.Damage, StringComparison.Ordinal);
    }

    private static CopyRow MasterOf(RunningApp app) =>
        app.Get<LibraryQueries>().TracksOfAlbum(Assert.Single(app.Get<LibraryQueries>().Albums()).Id)[0].Master;
}
