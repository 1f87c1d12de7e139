using System.Text.Json.Serialization;
using Wergamon.App.Storage;

namespace Wergamon.App.Workers;

[JsonSourceGenerationOptions(PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase)]
[JsonSerializable(typeof(WorkLoadChoice))]
internal sealed partial class WorkLoadJson : JsonSerializerContext;
