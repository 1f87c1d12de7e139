namespace Wergamon.App.Deliver;

/// <summary>What tracks are delivered as; in the database by the name in small letters.</summary>
public enum DeliveryKind
{
    /// <summary>An audio disc.</summary>
    Audio,

    /// <summary>A disc of files.</summary>
    Data,

    /// <summary>One long file.</summary>
    Joined,

    /// <summary>Files to be downloaded together.</summary>
    Zip,

    /// <summary>A stick, card or folder that is brought up to date again and again.</summary>
    Stick,
}

/// <summary>Tracks in an order that go out together.</summary>
public sealed record DeliveryRow
{
    public long Id { get; init; }

    public DeliveryKind Kind { get; init; }

    public string Title { get; init; } = "";

    /// <summary>A document of its kind, as JSON.</summary>
    public string Settings { get; init; } = "";

    public int Tracks { get; init; }
}

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
