namespace Wergamon.App.Runs;

/// <summary>Why an item waits for another; in the database by their names in lower case.</summary>
public enum WaitReason
{
    /// <summary>It needs the other's result, and fails with it.</summary>
    Success,

    /// <summary>It sums up or uses what the other did, whatever its outcome, and is repeated when the other is retried.</summary>
    End,

    /// <summary>It only has to come later.</summary>
    Turn,
}

/// <summary>One item waits for another of the same run, which was inserted before it.</summary>
public readonly record struct ItemWait(long ItemId, long OnItemId, WaitReason Reason);
