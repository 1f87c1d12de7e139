namespace Wergamon.Devices.Catalogue;

public sealed record CatalogueTrack(string Title, string? Artist = null);

/// <summary>What a catalogue knows of one album with a table of contents.</summary>
/// <param name="Confirmed">Number of people who confirmed that their disc is this album; the best candidate has most.</param>
/// <param name="CoverFile">The name of its front cover in the catalogue's folder.</param>
public sealed record CatalogueRecord(
    string Title, string Artist, int? Year, string? Genre, int Disc, int DiscTotal, int Confirmed, string? CoverFile,
    IReadOnlyList<CatalogueTrack> Tracks);
