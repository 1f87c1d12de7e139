namespace Wergamon.App.Sets;

/// <summary>What a person says of a track; null where nothing was said.</summary>
public sealed record OwnFigures
{
    public double? Tempo { get; init; }

    public string? Key { get; init; }

    public int? Energy { get; init; }

    /// <summary>Position of a beat in seconds, if the person has shifted the grid.</summary>
    public double? FirstBeat { get; init; }

    public int? Rating { get; init; }

    /// <summary>Empty for none.</summary>
    public string Comment { get; init; } = "";
}
