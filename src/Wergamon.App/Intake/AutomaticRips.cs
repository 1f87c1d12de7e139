using Microsoft.Extensions.Hosting;
using Wergamon.Core.Discs;

namespace Wergamon.App.Intake;

/// <summary>
/// Rips an audio disc as soon as its names have been looked up, when the person has chosen that. Surround discs are left to the person,
/// and so is a disc that was ripped since it was inserted.
/// </summary>
public sealed class AutomaticRips(DiscRips rips, InsertedDiscs discs) : IHostedService
{
    public Task StartAsync(CancellationToken cancellationToken)
    {
        discs.LookedUp += OnLookedUp;
        return Task.CompletedTask;
    }

    public Task StopAsync(CancellationToken cancellationToken)
    {
        discs.LookedUp -= OnLookedUp;
        return Task.CompletedTask;
    }

    private void OnLookedUp(InsertedDisc disc)
    {
        if (rips.Choice.ReadsByItself && !disc.IsSurround && rips.RunOf(disc) is null)
            rips.Start(disc.Letter, [.. TrackSpan.Of(disc.Contents, Pauses.WithTrackBefore).Select(span => span.Number)]);
    }
}
