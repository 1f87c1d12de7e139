using System.Globalization;
using Wergamon.App.Deliver.Sticks;
using Wergamon.App.Sets;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Burning;
using Wergamon.Core.Music;
using Wergamon.Web.Display;

namespace Wergamon.Web.Pages.Sets;

/// <summary>Figures of tracks in words.</summary>
internal static class SetLabels
{
    /// <summary>"126.0, G major, energy 3"; only what is known.</summary>
    public static string Figures(TrackFigures figures)
    {
        string?[] parts = [
            figures.Tempo?.ToString("0.0", CultureInfo.InvariantCulture), figures.Key?.ToString(),
            figures.Energy is { } energy ? $"energy {energy}" : null
        ];
        return string.Join(", ", parts.Where(part => part is { Length: > 0 }));
    }

    /// <summary>"118 to 128 BPM"; empty where no tempo is known.</summary>
    public static string Range((double Low, double High)? tempos) => tempos switch
    {
        null => "",
        var (low, high) when high - low < 0.5 => string.Create(CultureInfo.InvariantCulture, $"{low:0} BPM"),
        var (low, high) => string.Create(CultureInfo.InvariantCulture, $"{low:0} to {high:0} BPM"),
    };

    /// <summary>On which sticks a set is and how much of it has changed since; null for a set that no stick follows.</summary>
    public static string? OnSticks(IReadOnlyList<SetOnStick> sticks) => sticks.Count == 0
        ? null
        : string.Join("; ", sticks.Select(each =>
            each.Written == 0 && each.Left == 0
                ? $"Not written to {each.Stick} yet"
                : each.Changed == 0
                ? $"On {each.Stick}, all tracks"
                : $"{each.Changed:N0} changed since {each.Stick} was written"));

    /// <summary>Whether a set that no stick follows would fit an audio disc.</summary>
    public static string OnNoStick(SetRow set)
    {
        var room = TimeSpan.FromSeconds((double)DiscBlank.Minutes80.Sectors / AudioDisc.SectorsPerSecond) - set.Duration;
        return set.Tracks == 0 ? "No tracks yet"
            : set.Tracks <= AudioDisc.MaxTracks && room >= TimeSpan.Zero
            ? $"On no stick; fits an 80-minute disc with {Labels.Time(room)} left"
            : "On no stick";
    }

    /// <summary>"20 June 2026"; empty for none.</summary>
    public static string Day(SetRow set) =>
        DateOnly.TryParse(set.HeldOn, CultureInfo.InvariantCulture, out var day)
            ? day.ToString("d MMMM yyyy", CultureInfo.InvariantCulture)
            : "";

    /// <param name="summary">How many tracks there are, and how long.</param>
    public static string Subtitle(string summary, SetRow set)
    {
        string[] parts = [set.Rule is { } rule ? $"By rule: {rule.InWords}" : "", summary.TrimEnd('.'), Day(set), set.Notes];
        return string.Join(". ", parts.Where(part => part.Length > 0));
    }

    /// <summary>Where the key comes from.</summary>
    public static string? KeyTitle(SetTrack track) => track.KeyFrom switch
    {
        FigureSource.Own => "set by you",
        FigureSource.Tags => "from the tags",
        FigureSource.Measured => "measured, " + Sureness(track.Measured.KeyConfidence ?? 0),
        _ => null,
    };

    /// <param name="confidence">0 to 1.</param>
    public static string Sureness(double confidence) => confidence switch
    {
        >= 0.5 => "clear",
        >= 0.2 => "likely",
        _ => "uncertain",
    };

    /// <summary>"1:02.34", as marks are shown and typed.</summary>
    public static string Place(double seconds) =>
        string.Create(CultureInfo.InvariantCulture, $"{(int)(seconds / 60)}:{seconds % 60:00.00}");

    /// <summary>A position in seconds as people type it: "1:02.34" or "62.34"; null for anything else.</summary>
    public static double? Seconds(string? typed)
    {
        var parts = (typed ?? "").Trim().Replace(',', '.').Split(':');
        double seconds = 0;
        foreach (var part in parts)
        {
            if (!double.TryParse(part, NumberStyles.AllowDecimalPoint, CultureInfo.InvariantCulture, out double number)
                || !double.IsFinite(number) || parts.Length > 3)
                return null;
            seconds = 60 * seconds + number;
        }

        return seconds;
    }

    /// <summary>To a hundredth, as a field takes it.</summary>
    public static string Exact(double? tempo) => tempo?.ToString("0.##", CultureInfo.InvariantCulture) ?? "";

    public static string Tempo(SetTrack track) =>
        track.Tempo is { } tempo
            ? (track is { Drifts: true, TempoFrom: FigureSource.Measured } ? "≈ " : "")
                + tempo.ToString("0.0", CultureInfo.InvariantCulture)
            : "";

    /// <summary>Where the tempo comes from.</summary>
    public static string? TempoTitle(SetTrack track) => track.TempoFrom switch
    {
        FigureSource.Own => "set by you",
        FigureSource.Tags => "from the tags",
        FigureSource.Measured when track.Drifts =>
            string.Create(CultureInfo.InvariantCulture, $"drifts from {track.Measured.Slowest:0.0} to {track.Measured.Fastest:0.0}"),
        FigureSource.Measured =>
            string.Create(
                CultureInfo.InvariantCulture,
                $"measured: {track.Tempo:0.00}, {100 * track.Measured.TempoConfidence:0} % of the attacks on the beat"),
        _ => null,
    };
}
