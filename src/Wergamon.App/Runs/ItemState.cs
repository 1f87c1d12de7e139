namespace Wergamon.App.Runs;

/// <summary>States of an item; in the database by their names in lower case.</summary>
public enum ItemState
{
    Waiting,
    Working,
    Done,
    Failed,

    /// <summary>There was nothing to do, or the person chose to skip it.</summary>
    Skipped,
}
