using System.Text.Json;
using Wergamon.Core.Discs;

namespace Wergamon.Devices.Catalogue;

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
            var all = JsonSerializer.Deserialize(PlainFile.ReadAll(path, MaxBytes), CatalogueJson.Default.DictionaryStringListLedgerTrack)
                ?? [];
            return all.GetValueOrDefault(DiscId.Sha1(contents)) ?? [];
        }
        catch (Exception failure) when (failure is JsonException or IOException)
        {
            // Without a ledger, the verdict of the reading itself holds.
            return [];
        }
    }
}
