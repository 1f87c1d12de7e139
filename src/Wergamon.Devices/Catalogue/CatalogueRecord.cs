namespace Wergamon.Devices.Catalogue;

public sealed record CatalogueTrack(string Title, string? Artist = null);

/// <summary>What a catalogue knows of one album with a table of contents.</summary>
public sealed record CatalogueRecord(string Title, string Artist, IReadOnlyList<CatalogueTrack> Tracks)
{
    public int? Year { get; init; }

    public string? Genre { get; init; }

    public int Disc { get; init; } = 1;

    public int DiscTotal { get; init; } = 1;

    /// <summary>Number of people who confirmed that their disc is this album; the best candidate has most.</summary>
    public int Confirmed { get; init; }

    /// <summary>The name of its front cover in the catalogue's folder.</summary>
    public string? CoverFile { get; init; }
}
