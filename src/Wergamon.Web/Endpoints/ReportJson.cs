using System.Text.Json.Serialization;

namespace Wergamon.Web.Endpoints;

[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, WriteIndented = true,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(RunReport))]
internal sealed partial class ReportJson : JsonSerializerContext;
