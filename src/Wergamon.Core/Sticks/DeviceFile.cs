using System.Text.Json;
using System.Text.Json.Schema;
using System.Text.Json.Serialization.Metadata;

namespace Wergamon.Core.Sticks;

/// <summary>A device description as a file of its own, to be kept or given away.</summary>
public static class DeviceFile
{
    private static readonly JsonSerializerOptions Form = new(StickJson.Default.Options) { WriteIndented = true };

    /// <summary>JSON Schema of such a file.</summary>
    public static string Schema { get; } = StickJson.Default.Options.GetJsonSchemaAsNode(
        typeof(DeviceDescription), new JsonSchemaExporterOptions { TreatNullObliviousAsNonNullable = true }).ToJsonString(Form);

    public static string Write(DeviceDescription device) =>
        JsonSerializer.Serialize(device, (JsonTypeInfo<DeviceDescription>)Form.GetTypeInfo(typeof(DeviceDescription)));

    /// <summary>Reads a file.</summary>
    /// <returns>The description, or in words why it is none.</returns>
    public static (DeviceDescription? Device, string? Problem) Read(string text)
    {
        try
        {
            var device = JsonSerializer.Deserialize(text, StickJson.Default.DeviceDescription);
            return device is null
                ? (null, "This file holds no device description.")
                : device.Problem is { } problem
                ? (null, problem)
                : (device, null);
        }
        catch (Exception failure) when (failure is JsonException or NotSupportedException)
        {
            return (null, "This file holds no device description.");
        }
    }
}
