using System.Text.Json;
using Wergamon.Core.Jobs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Runs;

/// <summary>The states of a run as they stand in the database.</summary>
public static class RunState
{
    public const string Running = "running";
    public const string Stopped = "stopped";
    public const string Done = "done";
}

/// <summary>What a run carries out.</summary>
public static class RunKind
{
    public const string Convert = "convert";
    public const string Rip = "rip";
}

/// <summary>The states of one track of a run as they stand in the database.</summary>
public static class ItemState
{
    /// <summary>Its track has not been read from the disc yet.</summary>
    public const string Reading = "reading";

    public const string Waiting = "waiting";
    public const string Working = "working";

    /// <summary>Read back and found right, still under its temporary name.</summary>
    public const string Proved = "proved";

    public const string Done = "done";
    public const string Failed = "failed";

    /// <summary>Its name was taken and the target said to skip.</summary>
    public const string Skipped = "skipped";
}

public sealed record RunRow
{
    public long Id { get; init; }

    public long? PlanId { get; init; }

    public string Title { get; init; } = "";

    public string TargetName { get; init; } = "";

    public string OutputFolder { get; init; } = "";

    public string State { get; init; } = "";

    public string Kind { get; init; } = RunKind.Convert;

    public long? DiscId { get; init; }

    /// <summary>The letter of the drive that a rip reads from.</summary>
    public string? Drive { get; init; }

    /// <summary>Why it stopped by itself; null when a person stopped it.</summary>
    public string? StopReason { get; init; }

    public long StartedAt { get; init; }

    public long? EndedAt { get; init; }

    public long ActiveMs { get; init; }

    public int Tracks { get; init; }

    public int Done { get; init; }

    public int Failed { get; init; }
}

public sealed record RunItemRow
{
    public long Id { get; init; }

    public long RunId { get; init; }

    public int Position { get; init; }

    /// <summary>Null for an item of a rip.</summary>
    public long? TrackId { get; init; }

    /// <summary>Null for an item of a rip.</summary>
    public long? SourceCopyId { get; init; }

    /// <summary>For an item of a rip: the number of the track on the disc, or <see cref="Intake.RipStore.WholeDisc"/>.</summary>
    public int? DiscTrack { get; init; }

    /// <summary>For an item of a rip: what it is made for, as JSON.</summary>
    public string? Target { get; init; }

    public string Title { get; init; } = "";

    public string RelativePath { get; init; } = "";

    public string IfTaken { get; init; } = "";

    public string Steps { get; init; } = "";

    public Fidelity Fidelity { get; init; }

    public int Generation { get; init; }

    public long BytesBefore { get; init; }

    public long DurationMs { get; init; }

    public string Job { get; init; } = "";

    public string State { get; init; } = "";

    public string? TemporaryPath { get; init; }

    public string? FinalPath { get; init; }

    public string? Proof { get; init; }

    public string? Failure { get; init; }

    public long? NewCopyId { get; init; }

    public bool IsEnded => State is ItemState.Done or ItemState.Failed or ItemState.Skipped;

    public Target? ReadTarget() => Target is null ? null : JsonSerializer.Deserialize(Target, WorkerJson.Default.Target);

    public Proof? ReadProof() => Proof is null ? null : JsonSerializer.Deserialize(Proof, WorkerJson.Default.Proof);

    public ConvertJob ReadJob() => JsonSerializer.Deserialize(Job, WorkerJson.Default.ConvertJob) ?? throw new InvalidDataException($"The job of run item {Id} is empty.");
}
