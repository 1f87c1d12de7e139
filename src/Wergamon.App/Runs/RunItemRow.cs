namespace Wergamon.App.Runs;

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
