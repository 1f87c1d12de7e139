namespace Wergamon.Devices.Catalogue;

/// <summary>A candidate for a disc, with its cover.</summary>
public sealed record CatalogueEntry(CatalogueRecord Record, byte[]? Cover);
