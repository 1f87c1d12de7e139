using System.Text.Json.Serialization;
using Wergamon.Core.Planning;
using Wergamon.Core.Sticks;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>The JSON form of sticks and their runs.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, IgnoreReadOnlyProperties = true,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(StickSettings))]
[JsonSerializable(typeof(StickNotes))]
[JsonSerializable(typeof(SourceSound))]
[JsonSerializable(typeof(SoundChoice))]
[JsonSerializable(typeof(StickFileSpec))]
[JsonSerializable(typeof(StickFileResult))]
[JsonSerializable(typeof(StickTagSpec))]
[JsonSerializable(typeof(StickImportSpec))]
[JsonSerializable(typeof(double?))]
internal sealed partial class StickRunsJson : JsonSerializerContext;
