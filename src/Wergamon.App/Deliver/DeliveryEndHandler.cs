using Microsoft.Extensions.Hosting;
using Microsoft.Extensions.Logging;
using Wergamon.App.Runs;

namespace Wergamon.App.Deliver;

/// <summary>Empties the spool when everything is written; what failed can be tried again from it.</summary>
public sealed class DeliveryEndHandler(RunStore runs, DeliverySpool spool, ILogger<DeliveryEndHandler> logger) : IItemHandler, IHostedService
{
    /// <summary>Names the items.</summary>
    public const string ItemKind = "delivery-end";

    public string Kind => ItemKind;

    public Task<ItemOutcome> ExecuteAsync(RunItemRow item, ItemContext context, CancellationToken cancellation)
    {
        if (runs.Items(item.RunId).All(other => other.Kind == ItemKind || other.State is ItemState.Done or ItemState.Skipped))
            spool.Clear(item.RunId);
        return Task.FromResult(ItemOutcome.Done(null));
    }

    public ItemDescription Describe(RunItemRow item) => new("Clearing up", "Cleared up");

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
