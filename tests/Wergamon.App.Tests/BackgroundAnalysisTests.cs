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

    /// <summary>A copy with the samples of an analysed source takes its analysis over, and says the truth where the source has changed in between.</summary>
    [Fact]
    public async Task What_is_known_of_the_source_is_known_of_a_copy_with_the_same_samples()
    {
        await using var app = new RunningApp();
        var source = app.AddTrack(1, seconds: 2);
        await app.StartAsync();
        await app.ScanAsync();
        var analysis = app.Get<BackgroundAnalysis>();
        await RunningApp.UntilAsync(() => analysis.CountLeft() == 0 && !analysis.IsUnderWay);
        long master = MasterOf(app).Id;
        Assert.NotNull(app.Get<LibraryQueries>().DigestOf(master));
        using (app.Get<WorkerPool>().HoldBackground())
        {
            var item = Assert.Single(await app.EndAsync(app.Run(app.Plan("archive"))));
            var copy = CopyResult.Of(item)!;
            Assert.Equal(app.Get<LibraryQueries>().DigestOf(master), app.Get<LibraryQueries>().DigestOf(copy.CopyId!.Value));
            Assert.Equal(copy.Proof.SampleMd5, app.Get<LibraryQueries>().DigestOf(master));
            Assert.Equal(await analysis.WaveformAsync(MasterOf(app), CancellationToken.None), await analysis.WaveformAsync(app.Get<LibraryQueries>().Copy(copy.CopyId.Value)!, CancellationToken.None));

            // As long as before, and not scanned since.
            var bytes = File.ReadAllBytes(source);
            bytes[^1000] ^= 0x55;
            File.WriteAllBytes(source, bytes);
            File.SetLastWriteTimeUtc(source, new DateTime(2020, 1, 1, 0, 0, 0, DateTimeKind.Utc));
            Assert.Null(app.Get<LibraryQueries>().DigestOf(master));
        }
    }

    private static CopyRow MasterOf(RunningApp app) => app.Get<LibraryQueries>().TracksOfAlbum(Assert.Single(app.Get<LibraryQueries>().Albums()).Id)[0].Master;
}
