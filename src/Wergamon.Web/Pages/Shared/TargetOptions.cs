using Wergamon.Core.Formats;
using Wergamon.Core.Planning;

namespace Wergamon.Web.Pages.Shared;

/// <summary>What can be chosen in the settings of a target.</summary>
public static class TargetOptions
{
    private static readonly int[] UsualRates = [44_100, 48_000, 88_200, 96_000, 176_400, 192_000];

    public static IReadOnlyList<ArtworkRule> ArtworkRules { get; } =
    [
        ArtworkRule.Everything, new(ArtworkChoice.All, 1000), new(ArtworkChoice.All, 500), new(ArtworkChoice.FrontOnly),
        new(ArtworkChoice.FrontOnly, 1000), new(ArtworkChoice.FrontOnly, 500),
        new(ArtworkChoice.FrontOnly, 300), new(ArtworkChoice.None),
    ];

    public static IReadOnlyList<int> BitChoices { get; } = [16, 24];

    /// <summary>Sample rates that a format offers, in hertz.</summary>
    public static IReadOnlyList<int> RatesOf(WritableFormat format) =>
        format.Limits.Rates.Count == 0 ? UsualRates : [.. UsualRates.Where(format.Limits.Rates.Contains)];
}
