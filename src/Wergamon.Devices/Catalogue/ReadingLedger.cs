using System.Text.Json;
using Wergamon.Core.Discs;
using Wergamon.Core.Formats.Iff;
using Wergamon.Devices.Drives;

namespace Wergamon.Devices.Catalogue;

/// <summary>What other readings of a track gave.</summary>
/// <param name="Number">0 for what is hidden before track 1.</param>
/// <param name="Crc32">Over the whole track, the pause behind it included.</param>
/// <param name="Readings">How many readings gave this sum.</param>
public sealed record LedgerTrack(int Number, uint Crc32, int Readings);

/// <summary>Knows the sums that others got from the same disc.</summary>
public interface IReadingLedger
{
    IReadOnlyList<LedgerTrack> Find(TableOfContents contents);
}

/// <summary>A ledger in a folder of this machine.</summary>
/// <param name="folder">Holds ledger.json.</param>
public sealed class FolderLedger(string folder) : IReadingLedger
{
    public const string FileName = "ledger.json";

    public IReadOnlyList<LedgerTrack> Find(TableOfContents contents)
    {
        var path = Path.Combine(folder, FileName);
        if (!File.Exists(path))
            return [];
        try
        {
            var all = JsonSerializer.Deserialize(File.ReadAllText(path), RackJson.Default.DictionaryStringListLedgerTrack) ?? [];
            return all.GetValueOrDefault(DiscId.Sha1(contents)) ?? [];
        }
        catch (Exception failure) when (failure is JsonException or IOException)
        {
            // Without a ledger nothing is lost: the verdict of the reading itself stands.
            return [];
        }
    }
}
