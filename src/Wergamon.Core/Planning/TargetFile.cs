using System.Text.Json;
using System.Text.Json.Schema;
using System.Text.Json.Serialization.Metadata;

namespace Wergamon.Core.Planning;

/// <summary>A target as a file of its own, to be kept or given away.</summary>
public static class TargetFile
{
    private static readonly JsonSerializerOptions Form = new(PlanningJson.Default.Options) { WriteIndented = true };

    /// <summary>JSON Schema of such a file.</summary>
    public static string Schema { get; } = PlanningJson.Default.Options.GetJsonSchemaAsNode(
        typeof(Target), new JsonSchemaExporterOptions { TreatNullObliviousAsNonNullable = true }).ToJsonString(Form);

    public static string Write(Target target) => JsonSerializer.Serialize(target, (JsonTypeInfo<Target>)Form.GetTypeInfo(typeof(Target)));

    /// <summary>Reads a file.</summary>
    /// <returns>The target, or in words why it is none.</returns>
    public static (Target? Target, string? Problem) Read(string text)
    {
        try
        {
            var target = JsonSerializer.Deserialize(text, PlanningJson.Default.Target);
            return target is null
                ? (null, "This file contains no target.")
                : target.Problem is { } problem
                ? (null, problem)
                : (target, null);
        }
        catch (Exception failure) when (failure is JsonException or NotSupportedException)
        {
            return (null, "This file contains no target.");
        }
    }
}
