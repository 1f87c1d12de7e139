using System.Text.Json.Serialization;

namespace Wergamon.App.Deliver.Files;

/// <summary>The form in which joined files and zips are kept.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, IgnoreReadOnlyProperties = true,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(JoinedSettings))]
[JsonSerializable(typeof(JoinFileSpec))]
[JsonSerializable(typeof(ZipSettings))]
internal sealed partial class FilesJson : JsonSerializerContext;
