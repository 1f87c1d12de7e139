namespace Wergamon.App.Sets;

/// <summary>What of a track is written to its tags.</summary>
public sealed record SetTagChoice
{
    public bool Tempo { get; init; }

    public bool Key { get; init; }

    public bool Rating { get; init; }

    /// <summary>Energy and the person's comment, by the comment scheme.</summary>
    public bool Comment { get; init; }

    /// <summary>Marks as chapters.</summary>
    public bool Marks { get; init; }

    public bool Loudness { get; init; }
}
