using Dapper;
using Wergamon.App.Convert;
using Wergamon.App.Library.Listening;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.Codecs;
using Wergamon.Core.Analysis;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Planning;

namespace Wergamon.App.Tests.Convert;

/// <summary>Albums whose tracks are levelled as one.</summary>
public sealed class AlbumLevelTests
{
    /// <summary>All tracks get the gain of the album, whether it was known when the run was planned or has to be measured by it.</summary>
    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public async Task Tracks_of_an_album_get_one_gain(bool isAnalysed)
    {
        await using var app = new RunningApp();
        await app.StartAsync();
        app.AddTrack(1, 2);
        app.AddTrack(2, 5);
        await app.ScanAsync();
        await RunningApp.UntilAsync(() => app.Get<BackgroundAnalysis>().CountLeft() == 0);
        long plan = app.Plan("archive");
        if (!isAnalysed)
            app.Get<Database>().Change(connection => connection.Execute("UPDATE analysis SET true_peak = NULL"));
        app.Get<Plans>()
            .SetTarget(
                plan,
                new Target("archive", "Archive", new FlacSettings())
                {
                    Level = new LevelRule(LevelKind.Loudness) { Loudness = -23, AlbumAsOne = true },
                    Sources = SourceDisposition.TrashAfterProof
                });
        var planned = app.Get<Plans>().View(plan)!;
        Loudness[] before = [.. planned.Lines.Select(line => Measure(line.Track!.Master.Path))];
        Assert.All(planned.Lines, line => Assert.Equal(isAnalysed, line.Planned!.Route.Steps[0].Decibels is not null));

        var items = await app.EndAsync(app.Run(plan));
        Assert.All(items, item => Assert.Equal(ItemState.Done, item.State));
        Loudness[] after = [.. app.OutputFiles().Select(file => Measure(Path.Combine(app.Output, file)))];
        Assert.Equal(-23, Loudness.OfAll(after).Integrated!.Value, 0.1);
        Assert.NotEqual(before[0].Integrated!.Value, before[1].Integrated!.Value, 0.3);
        Assert.Equal(
            after[0].Integrated!.Value - before[0].Integrated!.Value, after[1].Integrated!.Value - before[1].Integrated!.Value, 0.02);
    }

    private static Loudness Measure(string path)
    {
        using var reader = AudioFiles.Open(path);
        return LoudnessMeter.Measure(reader, _ => { });
    }
}
