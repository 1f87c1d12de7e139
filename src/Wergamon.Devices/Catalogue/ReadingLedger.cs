using System.Text.Json;
using Wergamon.Core.Discs;
using Wergamon.Core.Formats.Iff;
using Wergamon.Devices.Drives;

namespace Wergamon.Devices.Catalogue;

/// <summary>Checksum of a track from other readings.</summary>
/// <param name="Number">0 for what is hidden before track 1.</param>
/// <param name="Crc32">Over the whole track, including the pause after it.</param>
/// <param name="Readings">Number of readings with this checksum.</param>
public sealed record LedgerTrack(int Number, uint Crc32, int Readings);

/// <summary>Looks up the checksums that others got from the same disc.</summary>
public interface IReadingLedger
{
    IReadOnlyList<LedgerTrack> Find(TableOfContents contents);
}

/// <summary>A ledger in a local folder.</summary>
/// <param name="folder">Holds ledger.json.</param>
public sealed class FolderLedger(string folder) : IReadingLedger
{
    public const string FileName = "ledger.json";

    private const int MaxBytes = 64 << 20;

    public IReadOnlyList<LedgerTrack> Find(TableOfContents contents)
    {
        var path = Path.Combine(folder, FileName);
        if (!PlainFile.Exists(path))
            return [];
        try
        {
            var all = JsonSerializer.Deserialize(PlainFile.ReadAll(path, MaxBytes), RackJson.Default.DictionaryStringListLedgerTrack) ?? [];
            return all.GetValueOrDefault(DiscId.Sha1(contents)) ?? [];
        }
        catch (Exception failure) when (failure is JsonException or IOException)
        {
            // Without a ledger, the verdict of the reading itself holds.
            return [];
        }
    }
}
