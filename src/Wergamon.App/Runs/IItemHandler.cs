namespace Wergamon.App.Runs;

/// <summary>What carrying an item out gave.</summary>
/// <param name="State">Done, failed or skipped.</param>
/// <param name="Result">The document of its kind, as JSON.</param>
/// <param name="Reason">Why it failed or was skipped, for the person.</param>
public sealed record ItemOutcome(string State, string? Result, string? Reason)
{
    public static ItemOutcome Done(string? result) => new(ItemState.Done, result, null);

    public static ItemOutcome Failed(string reason) => new(ItemState.Failed, null, reason);

    public static ItemOutcome Skipped(string reason) => new(ItemState.Skipped, null, reason);
}

/// <summary>How an item is shown in lists and reports.</summary>
/// <param name="Doing">What is being done while it is worked on: "Converting".</param>
/// <param name="Outcome">One word for a good end: "Proved".</param>
public sealed record ItemDescription(string Doing, string Outcome)
{
    /// <summary>What was found out or proved.</summary>
    public string Detail { get; init; } = "";

    /// <summary>The file that it made.</summary>
    public string? Path { get; init; }

    /// <summary>The copy in the library that it made.</summary>
    public long? CopyId { get; init; }

    public long? BytesBefore { get; init; }

    public long? BytesAfter { get; init; }

    /// <summary>What became of the source when it failed: "The original is as it was."</summary>
    public string OnFailure { get; init; } = "";
}

/// <summary>Carries out the items of one kind. Whatever it throws fails its item with a reason and nothing else.</summary>
public interface IItemHandler
{
    /// <summary>Names the items that it carries out.</summary>
    string Kind { get; }

    /// <summary>Carries an item out.</summary>
    /// <param name="cancellation">The run is stopped or the application ends; the item will begin anew.</param>
    /// <exception cref="RunStoppedException">The whole run cannot go on before the person has done something.</exception>
    Task<ItemOutcome> ExecuteAsync(RunItemRow item, ItemContext context, CancellationToken cancellation);

    /// <summary>Looks after an item that was under way when the server ended; null to begin it anew.</summary>
    Task<ItemOutcome?> RecoverAsync(RunItemRow item, CancellationToken cancellation) => Task.FromResult<ItemOutcome?>(null);

    ItemDescription Describe(RunItemRow item);
}

/// <summary>The run cannot go on by itself; the message says, for the person, why and what to do.</summary>
public sealed class RunStoppedException : Exception
{
    public RunStoppedException(string message) : base(message) { }

    public RunStoppedException(string message, Exception inner) : base(message, inner) { }

    public RunStoppedException() { }
}

/// <summary>What a handler tells while it works.</summary>
public sealed class ItemContext(long itemId, RunStore store, RunProgress progress, Action releaseLane)
{
    /// <summary>Tells how far the item is.</summary>
    /// <param name="share">From 0 to 1.</param>
    /// <param name="doing">What is being done now, where that differs from the handler's usual word.</param>
    public void Report(double share, string? doing = null) => progress.Report(itemId, share, doing);

    /// <summary>Writes down how far the item is, for a restart.</summary>
    /// <param name="checkpoint">A document of its kind, as JSON.</param>
    public void Checkpoint(string checkpoint) => store.SetCheckpoint(itemId, checkpoint);

    /// <summary>Lets the next item have the lane while this one is finished.</summary>
    public void ReleaseLane() => releaseLane();
}
