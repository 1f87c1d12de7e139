using System.Text.Json.Serialization;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Sticks;

/// <summary>The form in which device descriptions and the marks of sticks are kept.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, IgnoreReadOnlyProperties = true,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull, Converters = [typeof(WellFormedTextConverter)])]
[JsonSerializable(typeof(DeviceDescription))]
[JsonSerializable(typeof(StickMark))]
public sealed partial class StickJson : JsonSerializerContext;
