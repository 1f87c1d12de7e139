using System.Text.Json;
using Wergamon.Core.Discs.Reading;

namespace Wergamon.App.Tracks;

/// <summary>Where a copy came from.</summary>
public sealed record LineageRow
{
    public long CopyId { get; init; }

    public long? FromCopyId { get; init; }

    public string TargetName { get; init; } = "";

    public string Steps { get; init; } = "";

    public long MadeAt { get; init; }

    /// <summary>The disc it was read from; null for other copies.</summary>
    public long? DiscId { get; init; }

    public string? DiscTitle { get; init; }

    /// <summary>Its number there; 0 for hidden sound before track 1, -1 for the whole disc.</summary>
    public int? DiscTrack { get; init; }

    /// <summary>What reading gave, as JSON.</summary>
    public string? Reading { get; init; }

    public TrackReading? ReadReading() => Reading is null ? null : JsonSerializer.Deserialize(Reading, TracksJson.Default.TrackReading);
}
