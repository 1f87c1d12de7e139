using Wergamon.Core.Jobs;
using Wergamon.Core.Sticks;
using Wergamon.Core.Sync;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>One step with a file of a stick.</summary>
/// <param name="Place">The top of the stick.</param>
/// <param name="Mark">Of the stick that has to be there.</param>
public sealed record StickFileSpec(long StickId, string Place, string Mark, StickAction Action, SyncKey Key)
{
    /// <summary>Where the file is, or was when the step was planned, on the stick; null for a new one.</summary>
    public string? From { get; init; }

    /// <summary>Where it goes on the stick; null for one that is removed.</summary>
    public string? To { get; init; }

    /// <summary>What is written there: a file of this machine.</summary>
    public string? SourcePath { get; init; }

    /// <summary>True for a source that was made only for this and is deleted when it is written.</summary>
    public bool IsSourceTemporary { get; init; }

    /// <summary>What is written there instead of a file.</summary>
    public string? Text { get; init; }

    /// <summary>See <see cref="WantedFile"/>.</summary>
    public string Sound { get; init; } = "";

    public string Tags { get; init; } = "";

    public StickNotes Notes { get; init; } = StickNotes.None;
}

/// <summary>What is done with a file of a stick.</summary>
public enum StickAction
{
    /// <summary>It is copied there.</summary>
    Write,

    /// <summary>It gets another name.</summary>
    Move,

    Remove,
}

/// <summary>A file of a stick as a step has left it.</summary>
/// <param name="Path">On the stick; null for one that was removed.</param>
public sealed record StickFileResult(string? Path, long Bytes);

/// <summary>A file of a stick that gets other tags.</summary>
/// <param name="Job">How they are made, and where the file with them goes.</param>
public sealed record StickTagSpec(long StickId, string Place, SyncKey Key, ConvertJob Job);
