using Wergamon.App.Bench;

namespace Wergamon.Web.Pages.Bench;

/// <summary>Collects what the Bench has.</summary>
public sealed class BenchRails(NullTestStore tests, PassStore passes, InspectionStore inspections, BlindTests blind)
{
    private const int MaxListed = 30, MaxBlind = 10;

    public BenchRail Make() => new(tests.List(MaxListed), passes.List(MaxListed), inspections.Count(), blind.List(MaxBlind));
}
