namespace Wergamon.Core.Sticks;

/// <summary>How a file on a stick differs from what it should be.</summary>
public enum StickState
{
    UpToDate,

    /// <summary>It is not there yet.</summary>
    New,

    /// <summary>It was written and is not there any more: somebody deleted it on the device.</summary>
    Deleted,

    /// <summary>Its sound has changed in the library, or what is made of it.</summary>
    Sound,

    /// <summary>Only its tags or pictures have changed in the library.</summary>
    Tags,

    /// <summary>Only its place has changed.</summary>
    Moved,

    /// <summary>It stays what it is and is placed again in its turn: the device plays in the order of writing.</summary>
    Order,

    /// <summary>It is no longer in any list.</summary>
    Gone,

    /// <summary>Somebody has written to it on the device; it stays until the person says what counts.</summary>
    ChangedThere,
}
