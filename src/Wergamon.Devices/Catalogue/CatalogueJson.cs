using System.Text.Json.Serialization;
using Wergamon.Core.Bytes;

namespace Wergamon.Devices.Catalogue;

/// <summary>Serialisation of the entries of the catalogue and the ledger.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, WriteIndented = true,
    IgnoreReadOnlyProperties = true, Converters = [typeof(WellFormedTextConverter)])]
[JsonSerializable(typeof(Dictionary<string, List<CatalogueRecord>>))]
[JsonSerializable(typeof(Dictionary<string, List<LedgerTrack>>))]
public sealed partial class CatalogueJson : JsonSerializerContext;
