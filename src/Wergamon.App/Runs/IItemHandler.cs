namespace Wergamon.App.Runs;

/// <summary>Outcome of an item.</summary>
/// <param name="State">Done, failed or skipped.</param>
/// <param name="Result">The document of its kind, as JSON.</param>
/// <param name="Reason">Why it failed or was skipped, for the person.</param>
public sealed record ItemOutcome(ItemState State, string? Result, string? Reason)
{
    public static ItemOutcome Done(string? result) => new(ItemState.Done, result, null);

    public static ItemOutcome Failed(string reason) => new(ItemState.Failed, null, reason);

    public static ItemOutcome Skipped(string reason) => new(ItemState.Skipped, null, reason);
}

/// <summary>Executes the items of one kind. An exception fails the item with a reason and nothing else.</summary>
public interface IItemHandler
{
    /// <summary>The kind of the items that it carries out.</summary>
    string Kind { get; }

    /// <summary>Executes an item.</summary>
    /// <param name="cancellation">The run is stopped or the application ends; the item will start over.</param>
    /// <exception cref="RunStoppedException">The whole run cannot go on before the person has done something.</exception>
    Task<ItemOutcome> ExecuteAsync(RunItemRow item, ItemContext context, CancellationToken cancellation);

    /// <summary>Recovers an item that was under way when the server ended; null to start it over.</summary>
    Task<ItemOutcome?> RecoverAsync(RunItemRow item, CancellationToken cancellation) => Task.FromResult<ItemOutcome?>(null);

    /// <summary>
    /// False when the result that a finished item made for others is gone, so that it has to be made again before they are retried.
    /// </summary>
    bool HasResult(RunItemRow item) => true;

    ItemDescription Describe(RunItemRow item);
}
