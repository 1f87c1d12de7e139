using Wergamon.Core.Discs;

namespace Wergamon.Devices.Catalogue;

/// <summary>Checksum of a track from other readings.</summary>
/// <param name="Number">0 for the hidden track before track 1.</param>
/// <param name="Crc32">Over the whole track, including the pause after it.</param>
/// <param name="Readings">Number of readings with this checksum.</param>
public sealed record LedgerTrack(int Number, uint Crc32, int Readings);

/// <summary>Looks up the checksums that others got from the same disc.</summary>
public interface IReadingLedger
{
    IReadOnlyList<LedgerTrack> Find(TableOfContents contents);
}
