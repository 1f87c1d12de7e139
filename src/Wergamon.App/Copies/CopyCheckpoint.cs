using Wergamon.Core.Analysis;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Copies;

/// <summary>A copy that is proved and not named yet.</summary>
public sealed record CopyCheckpoint
{
    public required Proof Proof { get; init; }

    public AudioAnalysis? Analysis { get; init; }

    /// <summary>Digest of the samples where they are those of the source, whose analysis is the copy's as well.</summary>
    public string? KnownDigest { get; init; }

    /// <summary>What was really made if the plan had to be corrected; null if it was made as planned.</summary>
    public CopySpec? Corrected { get; init; }

    /// <summary>The final name of a copy that the library does not list; null before it has one.</summary>
    public string? PublishedPath { get; init; }
}
