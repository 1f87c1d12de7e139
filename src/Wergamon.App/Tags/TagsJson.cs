using System.Text.Json.Serialization;

namespace Wergamon.App.Tags;

/// <summary>The form in which the Tags station keeps documents.</summary>
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
