using Wergamon.App.Files;

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

/// <summary>Executes the items of one kind. An exception fails the item with a reason and nothing else.</summary>
public interface IItemHandler
{
    /// <summary>Names the items that it carries out.</summary>
    string Kind { get; }

    /// <summary>Executes an item.</summary>
    /// <param name="cancellation">The run is stopped or the application ends; the item will start over.</param>
    /// <exception cref="RunStoppedException">The whole run cannot go on before the person has done something.</exception>
    Task<ItemOutcome> ExecuteAsync(RunItemRow item, ItemContext context, CancellationToken cancellation);

    /// <summary>Recovers an item that was under way when the server ended; null to start it over.</summary>
    Task<ItemOutcome?> RecoverAsync(RunItemRow item, CancellationToken cancellation) => Task.FromResult<ItemOutcome?>(null);

    /// <summary>False when what a finished item made for others is gone, so that it has to be made again before they are retried.</summary>
    bool HasResult(RunItemRow item) => true;

    ItemDescription Describe(RunItemRow item);
}

/// <summary>What a run waits for before it goes on by itself: room on a full disk, or a folder whose drive was taken away.</summary>
/// <param name="Folder">Lies on the disk; or a file on it.</param>
/// <param name="BytesWanted">With so much free space it is worth trying again; 0 where the folder has to be there again.</param>
public sealed record DestinationWait(string Folder, long BytesWanted)
{
    public bool IsOver => BytesWanted == 0 ? HoldsAnything(Folder) : FreeSpace.At(Folder) >= BytesWanted;

    /// <summary>With less free space a disk counts as full.</summary>
    private const long FullBelowBytes = 4 << 20;

    /// <summary>Stops a run whose disk is full until there is room again.</summary>
    /// <param name="bytes">What it wants to write.</param>
    /// <exception cref="RunStoppedException">The disk is full.</exception>
    public static void StopIfFull(string folder, long bytes)
    {
        if (FreeSpace.At(folder) is { } free and < FullBelowBytes)
            throw new RunStoppedException(
                $"The disk with {folder} is full ({free / 1_000_000} MB free). The run continues once there is space.")
            { WaitsFor = new DestinationWait(folder, FullBelowBytes + bytes) };
    }

    /// <summary>False for a folder that is missing or empty, as the place of a drive is that was taken away; true for a file.</summary>
    public static bool HoldsAnything(string folder) =>
        PlainFile.Exists(folder) || PlainFolder.Exists(folder) && !PlainFolder.IsEmpty(folder);
}

/// <summary>The run cannot continue by itself; the message tells the person why and what to do.</summary>
public sealed class RunStoppedException : Exception
{
    /// <summary>Set where the run continues automatically; null where a person has to act.</summary>
    public DestinationWait? WaitsFor { get; init; }

    public RunStoppedException(string message) : base(message) { }

    public RunStoppedException(string message, Exception inner) : base(message, inner) { }

    public RunStoppedException() { }
}

/// <summary>What a handler reports while it works.</summary>
public sealed class ItemContext(long itemId, RunStore store, RunProgress progress, Action releaseLane)
{
    /// <summary>Reports progress.</summary>
    /// <param name="share">From 0 to 1.</param>
    /// <param name="doing">What is being done now, where that differs from the handler's usual word.</param>
    public void Report(double share, string? doing = null) => progress.Report(itemId, share, doing);

    /// <summary>Saves the state of the item for a restart.</summary>
    /// <param name="checkpoint">A document of its kind, as JSON.</param>
    public void Checkpoint(string checkpoint) => store.SetCheckpoint(itemId, checkpoint);

    /// <summary>Frees the lane for the next item while this one finishes.</summary>
    public void ReleaseLane() => releaseLane();
}
