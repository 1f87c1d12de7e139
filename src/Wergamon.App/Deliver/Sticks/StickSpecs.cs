using System.Text.Json;
using Wergamon.App.Runs;
using Wergamon.Core.Jobs;
using Wergamon.Core.Sticks;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>What is done with a file of a stick.</summary>
internal enum StickAction
{
    /// <summary>It is copied there.</summary>
    Write,

    /// <summary>It gets another name.</summary>
    Move,

    Remove,
}

/// <summary>One step with a file of a stick.</summary>
/// <param name="Place">The top of the stick.</param>
/// <param name="Mark">Of the stick that has to be there.</param>
internal sealed record StickFileSpec(long StickId, string Place, string Mark, StickAction Action, string Key)
{
    public int Version { get; init; } = 1;

    /// <summary>Where the file is, or was when the step was planned, on the stick; null for a new one.</summary>
    public string? From { get; init; }

    /// <summary>Where it goes on the stick; null for one that is removed.</summary>
    public string? To { get; init; }

    /// <summary>What is written there: a file of this machine.</summary>
    public string? SourcePath { get; init; }

    /// <summary>True for a source that was made for this alone and goes when it is written.</summary>
    public bool IsSourceTemporary { get; init; }

    /// <summary>What is written there instead of a file.</summary>
    public string? Text { get; init; }

    /// <summary>See <see cref="WantedFile"/>.</summary>
    public string Sound { get; init; } = "";

    public string Tags { get; init; } = "";

    public StickNotes Notes { get; init; } = StickNotes.None;

    public string ToJson() => JsonSerializer.Serialize(this, DeliverJson.Default.StickFileSpec);

    public static StickFileSpec Of(RunItemRow item) => item.SpecAs(DeliverJson.Default.StickFileSpec);
}

/// <summary>A file of a stick as a step has left it.</summary>
/// <param name="Path">On the stick; null for one that was removed.</param>
internal sealed record StickFileResult(string? Path, long Bytes)
{
    public int Version { get; init; } = 1;

    /// <summary>Null for an item that is not done.</summary>
    public static StickFileResult? Of(RunItemRow item) => item is { State: ItemState.Done, Result: { } result } ? JsonSerializer.Deserialize(result, DeliverJson.Default.StickFileResult) : null;

    public ItemOutcome ToOutcome() => ItemOutcome.Done(JsonSerializer.Serialize(this, DeliverJson.Default.StickFileResult));
}

/// <summary>A file of a stick that gets other tags.</summary>
/// <param name="Job">How they are made, and where the file with them goes.</param>
internal sealed record StickTagSpec(long StickId, string Place, string Key, ConvertJob Job)
{
    public int Version { get; init; } = 1;

    public string ToJson() => JsonSerializer.Serialize(this, DeliverJson.Default.StickTagSpec);

    public static StickTagSpec Of(RunItemRow item) => item.SpecAs(DeliverJson.Default.StickTagSpec);
}
