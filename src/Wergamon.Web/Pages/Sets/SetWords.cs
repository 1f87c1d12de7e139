using System.Globalization;
using Wergamon.App.Sets;
using Wergamon.Core.Music;

namespace Wergamon.Web.Pages.Sets;

/// <summary>Figures of tracks in words.</summary>
internal static class SetWords
{
    /// <summary>"126.0, G major, energy 3"; only what is known.</summary>
    public static string Figures(TrackFigures figures)
    {
        string?[] parts = [figures.Tempo?.ToString("0.0", CultureInfo.InvariantCulture), figures.Key?.ToString(), figures.Energy is { } energy ? $"energy {energy}" : null];
        return string.Join(", ", parts.Where(part => part is { Length: > 0 }));
    }

    /// <summary>To a hundredth, as a field takes it.</summary>
    public static string Exact(double? tempo) => tempo?.ToString("0.##", CultureInfo.InvariantCulture) ?? "";

    public static string Tempo(SetTrack track) => track.Tempo is { } tempo ? (track.Drifts ? "≈ " : "") + tempo.ToString("0.0", CultureInfo.InvariantCulture) : "";

    /// <summary>Where the tempo comes from.</summary>
    public static string? TempoTitle(SetTrack track) => track switch
    {
        { OwnTempo: not null } => "set by you",
        { Drifts: true } => string.Create(CultureInfo.InvariantCulture, $"drifts from {track.Slowest:0.0} to {track.Fastest:0.0}"),
        { MeasuredTempo: { } tempo } => string.Create(CultureInfo.InvariantCulture, $"measured: {tempo:0.00}, {100 * track.TempoConfidence:0} % of the attacks on the beat"),
        { TaggedTempo: not null } => "from the tags",
        _ => null,
    };
}
