using Wergamon.App.Bench;

namespace Wergamon.Web.Pages.Bench;

/// <summary>What the Bench has, beside every page of it.</summary>
/// <param name="Tests">The newest first.</param>
/// <param name="TestId">The one that is open; null for none.</param>
public sealed record BenchRail(IReadOnlyList<NullTestRecord> Tests, long? TestId)
{
    private const int MaxListed = 40;

    public static BenchRail Of(NullTestStore tests, long? testId = null) => new(tests.List(MaxListed), testId);
}
