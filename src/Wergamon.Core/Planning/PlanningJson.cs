using System.Text.Json.Serialization;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Planning;

/// <summary>The form in which targets are kept and given away.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, IgnoreReadOnlyProperties = true,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull, Converters = [typeof(WellFormedTextConverter)])]
[JsonSerializable(typeof(Target))]
public sealed partial class PlanningJson : JsonSerializerContext;
