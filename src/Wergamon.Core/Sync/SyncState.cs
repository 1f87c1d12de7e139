namespace Wergamon.Core.Sync;

/// <summary>How a file of a folder that is kept in step differs from what it should be.</summary>
public enum SyncState
{
    UpToDate,

    /// <summary>It is not there yet.</summary>
    New,

    /// <summary>It was written and is not there any more: somebody deleted it.</summary>
    Deleted,

    /// <summary>Its sound has changed in the library, or what is made of it.</summary>
    Sound,

    /// <summary>Only its tags or pictures have changed in the library.</summary>
    Tags,

    /// <summary>Only its place has changed.</summary>
    Moved,

    /// <summary>It stays what it is and is placed again in its turn: the device plays in the order of writing.</summary>
    Order,

    /// <summary>It is no longer wanted.</summary>
    Gone,

    /// <summary>Somebody has written to it there; it stays until the person says what counts.</summary>
    ChangedThere,

    /// <summary>Its source has been written to, and an analysis has yet to tell whether the sound has changed; it stays.</summary>
    NotAnalysed,

    /// <summary>Its source is missing; it stays.</summary>
    SourceMissing,
}
