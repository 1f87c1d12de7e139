using System.Text.Json.Serialization;
using Wergamon.Core.Discs.Reading;
using Wergamon.Core.Formats;

namespace Wergamon.App.Tracks;

/// <summary>The JSON form of facts about tracks and copies.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, IgnoreReadOnlyProperties = true,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull,
    NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals)]
[JsonSerializable(typeof(LibraryPart))]
[JsonSerializable(typeof(TrackReading))]
[JsonSerializable(typeof(IReadOnlyList<SoundStream>))]
[JsonSerializable(typeof(string))]
internal sealed partial class TracksJson : JsonSerializerContext;
