namespace Wergamon.App.Runs;

/// <summary>States of an item; in the database by their names in small letters.</summary>
public enum ItemState
{
    Waiting,
    Working,
    Done,
    Failed,

    /// <summary>There was nothing to do, or the person chose to skip it.</summary>
    Skipped,
}

/// <summary>The resource that an item needs exclusively. Lanes not listed here take one item at a time.</summary>
public static class Lane
{
    /// <summary>A worker process; as many items at a time as there are workers.</summary>
    public const string Worker = "worker";

    /// <summary>Small work on files that needs no worker.</summary>
    public const string Files = "files";

    /// <summary>Images of discs, which take as long as the disk does.</summary>
    public const string Image = "image";

    public static string Drive(string letter) => "drive " + letter;

    public static string Stick(long id) => FormattableString.Invariant($"stick {id}");
}

/// <summary>One step of a run. Its documents are JSON of its handler.</summary>
public sealed record RunItemRow
{
    public long Id { get; init; }

    public long RunId { get; init; }

    public int Position { get; init; }

    public string Kind { get; init; } = "";

    public string Lane { get; init; } = "";

    public ItemState State { get; init; }

    public string Title { get; init; } = "";

    public bool IsResult { get; init; }

    /// <summary>Its share of the run's work, in milliseconds of playing time.</summary>
    public long Weight { get; init; }

    public string Spec { get; init; } = "";

    /// <summary>The last saved state; null before the first.</summary>
    public string? Checkpoint { get; init; }

    public string? Result { get; init; }

    public string? Failure { get; init; }

    public bool IsEnded => State is ItemState.Done or ItemState.Failed or ItemState.Skipped;
}

/// <summary>Sizes of the files that an item read and made; null where there are none.</summary>
public readonly record struct ItemSizes(long? Before, long? After);

/// <summary>An item to be made.</summary>
/// <param name="Weight">Its share of the run's work, in milliseconds of playing time.</param>
/// <param name="Spec">What its handler needs, as JSON.</param>
public sealed record NewItem(string Kind, string Lane, string Title, long Weight, string Spec)
{
    /// <summary>False for a step on the way.</summary>
    public bool IsResult { get; init; } = true;

    /// <summary>Copies that it reads or changes.</summary>
    public IReadOnlyList<long> CopyIds { get; init; } = [];
}
