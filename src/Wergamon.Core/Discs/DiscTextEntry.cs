namespace Wergamon.Core.Discs;

/// <summary>Disc text of the disc or of one track. Empty fields are null.</summary>
public sealed record DiscTextEntry
{
    public string? Title { get; init; }

    public string? Performer { get; init; }

    public string? Songwriter { get; init; }

    public string? Composer { get; init; }

    public string? Arranger { get; init; }

    public string? Message { get; init; }

    /// <summary>The catalogue number for the disc, the ISRC for a track.</summary>
    public string? Code { get; init; }
}
