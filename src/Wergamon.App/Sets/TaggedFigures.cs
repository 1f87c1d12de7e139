namespace Wergamon.App.Sets;

/// <summary>What the tags of a track say; null where they say nothing.</summary>
public sealed record TaggedFigures
{
    public double? Tempo { get; init; }

    /// <summary>As it is written there, in any notation.</summary>
    public string? Key { get; init; }

    public string? Rating { get; init; }
}
