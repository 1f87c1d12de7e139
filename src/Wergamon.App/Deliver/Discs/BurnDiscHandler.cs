using System.Text.Json;
using Microsoft.Extensions.Logging;
using Wergamon.App.Runs;
using Wergamon.Core.Audio;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Burning;
using Wergamon.Devices.Burners;

namespace Wergamon.App.Deliver.Discs;

/// <summary>Writes a disc in one session, in the lane of its burner.</summary>
public sealed class BurnDiscHandler(BurnerBay bay, BurnedTracks tracks, ILogger<BurnDiscHandler> logger)
    : ItemHandler<BurnDiscSpec>(ItemKind)
{
    public static readonly ItemKind<BurnDiscSpec, BurnDiscResult> ItemKind = new(
        "burn-disc", () => DiscRunsJson.Default.BurnDiscSpec, () => DiscRunsJson.Default.BurnDiscResult);

    /// <summary>The outcome of a trial.</summary>
    public const string Tried = "Tried";

    protected override Task<ItemOutcome> ExecuteAsync(
        RunItemRow item, BurnDiscSpec spec, ItemContext context, CancellationToken cancellation) =>
        DedicatedThread.RunAsync(() => Burn(item, spec, context, cancellation));

    protected override ItemDescription Describe(RunItemRow item, BurnDiscSpec spec)
    {
        return new(spec.Settings.IsTrial ? "Trying" : "Burning", spec.Settings.IsTrial ? Tried : "Burned")
        {
            Detail = ItemKind.ResultOf(item) is { } made
                ? $"{new Msf(made.LeadOut)}{(made.Waits > 0 ? $", the burner waited {made.Waits} times" : "")}"
                : "",
        };
    }

    /// <summary>A disc that was finished just before the server ended is done; any other is spoiled, and burning starts over.</summary>
    protected override Task<ItemOutcome?> RecoverAsync(RunItemRow item, BurnDiscSpec spec, CancellationToken cancellation) =>
        Task.FromResult(
            item.Checkpoint is { } before && JsonSerializer.Deserialize(before, DiscRunsJson.Default.BurnDiscResult) is { Key: { } key }
                && bay.Burner(spec.Settings.Burner)?.Disc?.WrittenKey == key
                ? ItemOutcome.Done(before)
                : null);

    private ItemOutcome Burn(RunItemRow item, BurnDiscSpec spec, ItemContext context, CancellationToken cancellation)
    {
        var settings = spec.Settings;
        var burner = bay.Burner(settings.Burner) ?? throw new RunStoppedException($"Burner {settings.Burner} no longer exists.");
        if (burner.Disc is not { CanBeWritten: true } disc)
        {
            var what = burner.Disc is null ? "There is no disc in"
                : burner.Disc.Spoiled is null ? "The disc is written already in"
                : "The disc is spoiled in";
            throw new RunStoppedException($"{what} {burner.Traits.Name}. Put a blank one in, then continue.");
        }

        var layout = tracks.LayoutOf(item.RunId, spec);
        if (layout.ProblemFor(disc.Blank) is { } problem)
            throw new RunStoppedException($"{problem} Then start again, or put a longer disc in and continue.");
        var order = new BurnOrder(
            spec.Title, layout.Contents(settings.CatalogueNumber),
            settings.HasText ? DiscImageWriter.TextOf(layout, spec.Title, settings.Artist) : DiscText.None, settings.Speed)
        {
            IsTrial = settings.IsTrial,
            ClosesDisc = !settings.LeavesOpen,
        };
        try
        {
            var result = new BurnDiscResult([], layout.LeadOut, 0) { Bytes = (long)layout.LeadOut * AudioDisc.BytesPerSector };
            int waits = bay.Write(burner, order, session =>
            {
                var sums = tracks.Write(item.RunId, layout, session.Write, share => context.Report(share), cancellation);
                result = result with { Sums = sums, Key = session.Key };
                context.Checkpoint(JsonSerializer.Serialize(result, DiscRunsJson.Default.BurnDiscResult));
            });
            logger.LogInformation(
                "Run {RunId} item {ItemId}: {Sectors} sectors written in {Burner}", item.RunId, item.Id, layout.LeadOut, burner.Letter);
            return ItemKind.Done(result with { Waits = waits });
        }
        catch (BurnFailedException failure)
        {
            throw new RunStoppedException(
                $"{failure.Message} "
                    + $"{(failure.IsDiscSpoiled ? "The disc is spoiled: put another one in, then continue." : "Continue to try again.")}",
                failure);
        }
        catch (UnreadableAudioException failure)
        {
            return ItemOutcome.Failed(failure.Message);
        }
    }
}
