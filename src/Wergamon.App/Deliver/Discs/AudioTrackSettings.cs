using System.Text.Json;

namespace Wergamon.App.Deliver.Discs;

/// <summary>What is special about a track of an audio disc; null for what its tags and the disc say.</summary>
public sealed record AudioTrackSettings
{
    public string? Title { get; init; }

    public string? Artist { get; init; }

    public string? Isrc { get; init; }

    public double? PauseSeconds { get; init; }

    /// <summary>Positions of index 2 and up, in seconds from the start of the track.</summary>
    public IReadOnlyList<double> Indexes { get; init; } = [];

    public static AudioTrackSettings Of(DeliveryItemRow item) =>
        item.Settings is { } text
            ? JsonSerializer.Deserialize(text, DiscRunsJson.Default.AudioTrackSettings) ?? new AudioTrackSettings()
            : new AudioTrackSettings();

    /// <summary>Null where nothing is special.</summary>
    public string? ToJson() =>
        this is { Title: null, Artist: null, Isrc: null, PauseSeconds: null, Indexes.Count: 0 }
            ? null
            : JsonSerializer.Serialize(this, DiscRunsJson.Default.AudioTrackSettings);
}
