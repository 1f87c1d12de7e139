using System.Text.Json.Serialization;

namespace Wergamon.Core.Jobs;

/// <summary>Serialisation of the lines between server and worker.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase,
    UseStringEnumConverter = true,
    IgnoreReadOnlyProperties = true,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(WorkerJob))]
[JsonSerializable(typeof(WorkerReply))]
[JsonSerializable(typeof(Proof))]
[JsonSerializable(typeof(ConvertJob))]
public sealed partial class WorkerJson : JsonSerializerContext;
