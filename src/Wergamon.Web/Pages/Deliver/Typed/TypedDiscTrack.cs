using System.Globalization;
using Wergamon.App.Deliver;
using Wergamon.App.Deliver.Discs;
using Wergamon.Core.Discs;

namespace Wergamon.Web.Pages.Deliver.Typed;

/// <summary>The settings of a track of a disc, as the form sends it; empty ones follow the tags and the disc.</summary>
public sealed record TypedDiscTrack
{
    public string? TrackTitle { get; init; }

    public string? TrackArtist { get; init; }

    public string? Isrc { get; init; }

    public double? Pause { get; init; }

    /// <summary>Times, separated by commas: "1:20, 3:05.5".</summary>
    public string? Indexes { get; init; }

    /// <summary>What is wrong, for the person; null when nothing is.</summary>
    public string? Problem =>
        Isrc?.Trim() is { Length: > 0 } isrc && DiscCodes.NormaliseIsrc(isrc) is null
            ? "An ISRC has a country, a registrant, a year and a number: ZZ-LQ1-21-00002."
        : Pause is { } pause && (!double.IsFinite(pause) || pause is < 0 or > AudioDiscSettings.MaxPauseSeconds)
            ? $"A pause is 0 to {AudioDiscSettings.MaxPauseSeconds:0} s long."
        : Times.Contains(null) ? "Enter the times of indexes as minutes and seconds, with commas between them: 1:20, 3:05.5."
        : null;

    public AudioTrackSettings ToSettings() => new()
    {
        Title = Given(TrackTitle),
        Artist = Given(TrackArtist),
        Isrc = DiscCodes.NormaliseIsrc(Isrc),
        PauseSeconds = Pause,
        Indexes = [.. Times.OfType<double>().Order()],
    };

    private IReadOnlyList<double?> Times =>
        [.. (Indexes ?? "").Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries).Select(SecondsOf)];

    private static string? Given(string? text) => DeliveryStore.TitleOf(text) is { Length: > 0 } given ? given : null;

    private static double? SecondsOf(string text)
    {
        var parts = text.Split(':');
        if (parts.Length > 2
            || !double.TryParse(parts[^1], NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out double seconds)
            || !double.IsFinite(seconds))
            return null;
        return parts.Length == 1
            ? seconds
            : int.TryParse(parts[0], NumberStyles.None, CultureInfo.InvariantCulture, out int minutes) && minutes < 1000 && seconds < 60
            ? minutes * 60 + seconds
            : null;
    }
}
