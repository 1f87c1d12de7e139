namespace Wergamon.App.Deliver;

/// <summary>A track in its place.</summary>
public sealed record DeliveryItemRow
{
    public long Id { get; init; }

    /// <summary>Null when the track has left the library.</summary>
    public long? TrackId { get; init; }

    /// <summary>As it was when the track was put here.</summary>
    public string Title { get; init; } = "";

    /// <summary>As it was when the track was put here.</summary>
    public string Artist { get; init; } = "";

    /// <summary>A document of its kind, as JSON; null where nothing is special.</summary>
    public string? Settings { get; init; }
}
