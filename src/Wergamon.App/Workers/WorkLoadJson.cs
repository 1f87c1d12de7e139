using System.Text.Json.Serialization;

namespace Wergamon.App.Workers;

[JsonSourceGenerationOptions(PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase)]
[JsonSerializable(typeof(WorkLoadChoice))]
internal sealed partial class WorkLoadJson : JsonSerializerContext;
