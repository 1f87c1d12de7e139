using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Runs;
using Wergamon.App.Storage;

namespace Wergamon.App.Deliver;

/// <summary>Empties the spool when everything is written; failed items can be retried from it.</summary>
public sealed class DeliveryEndHandler(RunStore runs, DeliverySpool spool, ILogger<DeliveryEndHandler> logger)
    : ItemHandler<NoSpec>(ItemKind), IHostedService
{
    public static readonly ItemKind<NoSpec> ItemKind = new("delivery-end", () => RunsJson.Default.NoSpec);

    protected override Task<ItemOutcome> ExecuteAsync(RunItemRow item, NoSpec spec, ItemContext context, CancellationToken cancellation)
    {
        if (runs.Items(item.RunId).All(other => ItemKind.Is(other) || other.State is ItemState.Done or ItemState.Skipped))
            spool.Clear(item.RunId);
        return Task.FromResult(ItemOutcome.Done(null));
    }

    protected override ItemDescription Describe(RunItemRow item, NoSpec spec) => new("Clearing up", "Cleared up");

    /// <summary>Of runs that are gone nothing stays.</summary>
    public Task StartAsync(CancellationToken cancellationToken)
    {
        Guard.Try(logger, "Clearing up after deliveries", () =>
        {
            foreach (long runId in spool.Runs().Where(runId => runs.Get(runId) is null))
                Guard.Try(logger, $"Clearing up after run {runId}", () => spool.Clear(runId));
        });
        return Task.CompletedTask;
    }

    public Task StopAsync(CancellationToken cancellationToken) => Task.CompletedTask;
}
