using System.Text.Json.Serialization;
using Wergamon.Core.Bytes;

namespace Wergamon.Devices.Drives;

/// <summary>Serialisation of the notes in the rack.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, WriteIndented = true,
    IgnoreReadOnlyProperties = true, Converters = [typeof(WellFormedTextConverter)])]
[JsonSerializable(typeof(RackNote))]
public sealed partial class RackJson : JsonSerializerContext;
