using Wergamon.Core.Discs;

namespace Wergamon.Devices.Catalogue;

/// <summary>Looks up albums by the table of contents of their discs, or by name.</summary>
public interface IDiscCatalogue
{
    /// <summary>All albums that have this table of contents, the most often confirmed first; empty when it knows none.</summary>
    /// <exception cref="CatalogueException">It is down, or its answer makes no sense.</exception>
    Task<IReadOnlyList<CatalogueEntry>> FindAsync(TableOfContents contents, CancellationToken cancellation);

    /// <summary>Albums with all these words in title and artist, those with a cover first; empty when it knows none.</summary>
    /// <exception cref="CatalogueException">It is down, or its answer makes no sense.</exception>
    Task<IReadOnlyList<CatalogueEntry>> FindAsync(string words, CancellationToken cancellation);
}
