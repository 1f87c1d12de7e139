using System.Text.Json.Serialization;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Reading;

namespace Wergamon.App.Intake;

/// <summary>The JSON form of discs and choices about them.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, IgnoreReadOnlyProperties = true)]
[JsonSerializable(typeof(TableOfContents))]
[JsonSerializable(typeof(DiscAlbum))]
[JsonSerializable(typeof(TrackReading))]
[JsonSerializable(typeof(RipSettings))]
[JsonSerializable(typeof(DiscChoice))]
[JsonSerializable(typeof(SurroundChoice))]
[JsonSerializable(typeof(SurroundSource))]
[JsonSerializable(typeof(RipTrackSpec))]
[JsonSerializable(typeof(RipTrackResult))]
[JsonSerializable(typeof(RipReportSpec))]
[JsonSerializable(typeof(RenameSpec))]
[JsonSerializable(typeof(string))]
public sealed partial class IntakeJson : JsonSerializerContext;
