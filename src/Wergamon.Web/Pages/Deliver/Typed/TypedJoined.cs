using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Files;

namespace Wergamon.Web.Pages.Deliver.Typed;

/// <summary>How tracks are joined, as the form sends it. Anything that is not a number changes nothing.</summary>
public sealed record TypedJoined
{
    public string? Title { get; init; }

    public string? Artist { get; init; }

    public string? Target { get; init; }

    public double? GapSeconds { get; init; }

    public double? CrossfadeSeconds { get; init; }

    public string? Folder { get; init; }

    public bool IsInLibrary { get; init; }

    /// <param name="known">What was there.</param>
    /// <param name="folder">The typed folder if it can be used; otherwise null.</param>
    public JoinedSettings Over(JoinedSettings known, string? folder) => known with
    {
        TargetKey = Target ?? known.TargetKey,
        Artist = DeliveryStore.TitleOf(Artist),
        GapSeconds = Within(GapSeconds, JoinedSettings.MaxGapSeconds) ?? known.GapSeconds,
        CrossfadeSeconds = Within(CrossfadeSeconds, JoinedSettings.MaxCrossfadeSeconds) ?? known.CrossfadeSeconds,
        Folder = folder ?? known.Folder,
        IsInLibrary = IsInLibrary,
    };

    private static double? Within(double? typed, double max) =>
        typed is { } value && double.IsFinite(value) ? Math.Clamp(value, 0, max) : null;
}
