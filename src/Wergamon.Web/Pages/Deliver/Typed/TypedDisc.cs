using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.Core.Discs;

namespace Wergamon.Web.Pages.Deliver.Typed;

/// <summary>How a disc is made, as the form sends it. Anything that is not a number changes nothing.</summary>
public sealed record TypedDisc
{
    public string? Title { get; init; }

    public string? Artist { get; init; }

    public string? CatalogueNumber { get; init; }

    public double? PauseSeconds { get; init; }

    public bool IsFirstHidden { get; init; }

    public DiscLevel? Level { get; init; }

    public double? Loudness { get; init; }

    public double? Ceiling { get; init; }

    public double? FadeInSeconds { get; init; }

    public double? FadeOutSeconds { get; init; }

    public bool HasText { get; init; }

    public string? Burner { get; init; }

    public int? Speed { get; init; }

    public int? Copies { get; init; }

    public bool IsTrial { get; init; }

    public bool LeavesOpen { get; init; }

    public bool IsVerified { get; init; }

    public string? BlankKey { get; init; }

    /// <summary>What is wrong, for the person; null when nothing is.</summary>
    public string? Problem =>
        CatalogueNumber?.Trim() is { Length: > 0 } number && !DiscCodes.IsCatalogueNumber(number)
            ? "A catalogue number has 13 digits, of which the last is the check digit; this one was not saved."
            : null;

    /// <param name="known">What was there.</param>
    public AudioDiscSettings Over(AudioDiscSettings known) => known with
    {
        Artist = DeliveryStore.TitleOf(Artist),
        CatalogueNumber = CatalogueNumber?.Trim() is { } number && (number.Length == 0 || DiscCodes.IsCatalogueNumber(number))
            ? number
            : known.CatalogueNumber,
        PauseSeconds = Within(PauseSeconds, 0, AudioDiscSettings.MaxPauseSeconds) ?? known.PauseSeconds,
        IsFirstHidden = IsFirstHidden,
        Level = Level is { } level && Enum.IsDefined(level) ? level : known.Level,
        Loudness = Within(Loudness, -40, -5) ?? known.Loudness,
        Ceiling = Within(Ceiling, -20, 0) ?? known.Ceiling,
        FadeInSeconds = Within(FadeInSeconds, 0, AudioDiscSettings.MaxFadeSeconds) ?? known.FadeInSeconds,
        FadeOutSeconds = Within(FadeOutSeconds, 0, AudioDiscSettings.MaxFadeSeconds) ?? known.FadeOutSeconds,
        HasText = HasText,
        Burner = Burner ?? known.Burner,
        // Another burner has other speeds.
        Speed = Burner is not null && Burner != known.Burner ? 0 : Speed ?? known.Speed,
        Copies = Copies is { } copies ? Math.Clamp(copies, 1, AudioDiscSettings.MaxCopies) : known.Copies,
        IsTrial = IsTrial,
        LeavesOpen = LeavesOpen,
        IsVerified = IsVerified,
        BlankKey = BlankKey ?? known.BlankKey,
    };

    private static double? Within(double? typed, double min, double max) =>
        typed is { } value && double.IsFinite(value) ? Math.Clamp(value, min, max) : null;
}
