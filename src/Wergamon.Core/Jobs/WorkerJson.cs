using System.Text.Json.Serialization;
using Wergamon.Core.Analysis;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Analysis.Findings;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Music;
using Wergamon.Core.Planning;
using Wergamon.Core.Tags;

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
