using Wergamon.App.Bench;

namespace Wergamon.Web.Pages.Bench;

/// <summary>What the Bench has, beside every page of it.</summary>
/// <param name="Tests">The newest first, as are <paramref name="Passes"/>.</param>
/// <param name="Inspections">Whether files are what they say.</param>
public sealed record BenchRail(IReadOnlyList<NullTestRecord> Tests, IReadOnlyList<PassesLine> Passes, InspectionCounts Inspections)
{
    private const int MaxListed = 30;

    /// <summary>The test that is open; null for none.</summary>
    public long? TestId { get; init; }

    public long? PassesId { get; init; }

    /// <summary>Whether the findings are open.</summary>
    public bool IsFindings { get; init; }

    public static BenchRail Of(NullTestStore tests, PassStore passes, InspectionStore inspections) => new(tests.List(MaxListed), passes.List(MaxListed), inspections.Count());
}
