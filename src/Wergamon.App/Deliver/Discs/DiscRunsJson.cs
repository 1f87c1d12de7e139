using System.Text.Json.Serialization;

namespace Wergamon.App.Deliver.Discs;

/// <summary>The form in which discs to be written and their runs are kept.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, IgnoreReadOnlyProperties = true,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(AudioDiscSettings))]
[JsonSerializable(typeof(AudioTrackSettings))]
[JsonSerializable(typeof(PrepareTrackSpec))]
[JsonSerializable(typeof(PreparedTrack))]
[JsonSerializable(typeof(BurnDiscSpec))]
[JsonSerializable(typeof(BurnDiscResult))]
[JsonSerializable(typeof(BurnCheckResult))]
[JsonSerializable(typeof(TrayContents))]
[JsonSerializable(typeof(DataDiscSettings))]
[JsonSerializable(typeof(DataDiscSpec))]
[JsonSerializable(typeof(DataDiscResult))]
[JsonSerializable(typeof(WrittenDataDisc))]
internal sealed partial class DiscRunsJson : JsonSerializerContext;
