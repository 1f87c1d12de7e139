using System.Text.Json.Serialization;
using Wergamon.Core.Analysis.Comparing;
using Wergamon.Core.Analysis.Findings;

namespace Wergamon.App.Bench;

/// <summary>The form in which the Bench keeps documents.</summary>
[JsonSourceGenerationOptions(
    PropertyNamingPolicy = JsonKnownNamingPolicy.CamelCase, UseStringEnumConverter = true, IgnoreReadOnlyProperties = true,
    DefaultIgnoreCondition = JsonIgnoreCondition.WhenWritingNull)]
[JsonSerializable(typeof(ComparedSound))]
[JsonSerializable(typeof(NullTestResult))]
[JsonSerializable(typeof(NullTestSpec))]
[JsonSerializable(typeof(PassSpec))]
[JsonSerializable(typeof(InspectSpec))]
[JsonSerializable(typeof(Inspection))]
internal sealed partial class BenchJson : JsonSerializerContext;
