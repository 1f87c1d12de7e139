using Wergamon.App.Bench;

namespace Wergamon.Web.Pages.Bench;

/// <summary>What the Bench has, beside every page of it.</summary>
/// <param name="Tests">The newest first, as are <paramref name="Passes"/>.</param>
/// <param name="TestId">The one that is open; null for none.</param>
public sealed record BenchRail(IReadOnlyList<NullTestRecord> Tests, IReadOnlyList<PassesLine> Passes, long? TestId, long? PassesId)
{
    private const int MaxListed = 30;

    public static BenchRail Of(NullTestStore tests, PassStore passes, long? testId = null, long? passesId = null) => new(tests.List(MaxListed), passes.List(MaxListed), testId, passesId);
}
