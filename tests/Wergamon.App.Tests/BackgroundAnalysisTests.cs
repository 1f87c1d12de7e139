using Wergamon.App.Library;
using Wergamon.App.Workers;

namespace Wergamon.App.Tests;

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
        var (first, second) = (pool.HoldBackground(), pool.HoldBackground());
        await app.ScanAsync();
        var track = app.Get<LibraryQueries>().TracksOfAlbum(Assert.Single(app.Get<LibraryQueries>().Albums()).Id)[0];
        Assert.NotEmpty((await analysis.WaveformAsync(track.Master, CancellationToken.None))!);
        Assert.Equal(2, analysis.CountLeft());
        first.Dispose();
        Assert.NotEqual(0, analysis.CountLeft());
        second.Dispose();
        await RunningApp.UntilAsync(() => analysis.CountLeft() == 0 && !analysis.IsUnderWay);
    }
}
