namespace Wergamon.App.Runs;

/// <summary>What a handler reports while it works.</summary>
public sealed class ItemContext(long itemId, RunStore store, RunProgress progress, Action releaseLane)
{
    /// <summary>Reports progress.</summary>
    /// <param name="share">From 0 to 1.</param>
    /// <param name="doing">What is being done now, if that differs from the handler's usual word.</param>
    public void Report(double share, string? doing = null) => progress.Report(itemId, share, doing);

    /// <summary>Saves the state of the item for a restart.</summary>
    /// <param name="checkpoint">A document of its kind, as JSON.</param>
    public void Checkpoint(string checkpoint) => store.SetCheckpoint(itemId, checkpoint);

    /// <summary>Frees the lane for the next item while this one finishes.</summary>
    public void ReleaseLane() => releaseLane();
}
