using Wergamon.App.Library;
using Wergamon.App.Runs;

namespace Wergamon.App.Tests;

/// <summary>Going through the sound of all copies in the background.</summary>
public sealed class SurveyTests
{
    [Fact]
    public async Task While_copies_are_made_nothing_is_gone_through_but_what_somebody_waits_for()
    {
        await using var app = new RunningApp();
        foreach (int number in new[] { 1, 2, 3 })
            app.AddTrack(number, seconds: 0.5);
        await app.StartAsync();
        var (work, surveys) = (app.Get<CopyWork>(), app.Get<Surveys>());
        work.Begin();
        work.Begin();
        await app.ScanAsync();
        var track = app.Get<LibraryQueries>().TracksOfAlbum(Assert.Single(app.Get<LibraryQueries>().Albums()).Id)[0];
        Assert.NotEmpty((await surveys.WaveformAsync(track.Master, CancellationToken.None))!);
        Assert.Equal(2, surveys.CountLeft());
        work.End();
        Assert.False(work.WhenAtRestAsync(CancellationToken.None).IsCompleted);
        work.End();
        await RunningApp.UntilAsync(() => surveys.CountLeft() == 0 && !surveys.IsUnderWay);
    }
}
