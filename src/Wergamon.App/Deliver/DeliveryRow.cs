namespace Wergamon.App.Deliver;

/// <summary>Tracks in an order that go out together.</summary>
public sealed record DeliveryRow
{
    public long Id { get; init; }

    public DeliveryKind Kind { get; init; }

    public string Title { get; init; } = "";

    /// <summary>A document of its kind, as JSON.</summary>
    public string Settings { get; init; } = "";

    public int Tracks { get; init; }

    public long CreatedAt { get; init; }
}
