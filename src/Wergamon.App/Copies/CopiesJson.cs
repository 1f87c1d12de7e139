using System.Text.Json.Serialization;

namespace Wergamon.App.Copies;

/// <summary>The JSON form of documents about copies.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, IgnoreReadOnlyProperties = true,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals)]
[JsonSerializable(typeof(CopySpec))]
[JsonSerializable(typeof(CopyCheckpoint))]
[JsonSerializable(typeof(CopyResult))]
internal sealed partial class CopiesJson : JsonSerializerContext;
