using Wergamon.Core.Naming;

namespace Wergamon.App.Runs;

/// <summary>A long piece of work, with its items.</summary>
public sealed record RunRow
{
    public long Id { get; init; }

    /// <summary>The key of its <see cref="RunKind"/>.</summary>
    public string Kind { get; init; } = "";

    public string Title { get; init; } = "";

    /// <summary>What it is for: "Pocket player".</summary>
    public string Purpose { get; init; } = "";

    /// <summary>Where its results go; null if they have no folder.</summary>
    public string? OutputFolder { get; init; }

    public RunState State { get; init; }

    /// <summary>Why it stopped automatically; null when a person stopped it.</summary>
    public string? StopReason { get; init; }

    public long StartedAt { get; init; }

    public long? EndedAt { get; init; }

    public long ActiveMs { get; init; }

    /// <summary>Items that the run is for, without intermediate steps.</summary>
    public int Results { get; init; }

    /// <summary>Those of them that are done.</summary>
    public int Done { get; init; }

    public int Skipped { get; init; }

    /// <summary>Items of any kind that failed.</summary>
    public int Failed { get; init; }

    /// <summary>Milliseconds of playing time in all items.</summary>
    public long Weight { get; init; }

    public long EndedWeight { get; init; }

    /// <summary>Size of the files that its done items read.</summary>
    public long BytesBefore { get; init; }

    /// <summary>Size of the files that its done items made.</summary>
    public long BytesAfter { get; init; }

    /// <summary>Results that have ended, whatever their outcome.</summary>
    public int Ended { get; init; }

    /// <summary>"6 files", whatever their outcome.</summary>
    /// <param name="noun">One of them, in the singular.</param>
    public string CountResults(string noun) => Plural.Count(Results, noun);
}
