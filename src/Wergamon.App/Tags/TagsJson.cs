using System.Text.Json.Serialization;

namespace Wergamon.App.Tags;

/// <summary>The JSON form of the documents of Tags.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, IgnoreReadOnlyProperties = true,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(TagWriteSpec))]
[JsonSerializable(typeof(TagUndoSpec))]
[JsonSerializable(typeof(TagWriteResult))]
[JsonSerializable(typeof(TagSettings))]
[JsonSerializable(typeof(IReadOnlyList<string>))]
[JsonSerializable(typeof(IReadOnlyList<PictureChoice>))]
public sealed partial class TagsJson : JsonSerializerContext;
