using Wergamon.App.Bench;

namespace Wergamon.Web.Pages.Bench;

/// <summary>What the Bench has, beside every page of it.</summary>
/// <param name="Tests">The newest first, as are <paramref name="Passes"/> and <paramref name="BlindTests"/>.</param>
/// <param name="Inspections">Authenticity checks.</param>
public sealed record BenchRail(
    IReadOnlyList<NullTestRecord> Tests, IReadOnlyList<PassesLine> Passes, InspectionCounts Inspections,
    IReadOnlyList<BlindTestRecord> BlindTests)
{
    /// <summary>The test that is open; null for none.</summary>
    public long? TestId { get; init; }

    public long? PassesId { get; init; }

    public long? BlindId { get; init; }

    /// <summary>Whether the findings are open.</summary>
    public bool IsFindings { get; init; }
}
