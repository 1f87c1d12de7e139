using System.Text.Json.Serialization;
using Wergamon.Core.Planning;

namespace Wergamon.App.Convert;

/// <summary>The form in which Convert keeps documents.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, IgnoreReadOnlyProperties = true,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(PlanFile))]
[JsonSerializable(typeof(TrackException))]
[JsonSerializable(typeof(TrashOriginalSpec))]
[JsonSerializable(typeof(SoundChoice))]
[JsonSerializable(typeof(TrackPart))]
[JsonSerializable(typeof(IReadOnlyList<PlanPiece>))]
[JsonSerializable(typeof(MirrorFileSpec))]
[JsonSerializable(typeof(MirrorFileResult))]
internal sealed partial class ConvertJson : JsonSerializerContext;
