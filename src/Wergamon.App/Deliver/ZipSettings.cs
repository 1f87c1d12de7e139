using System.Text.Json;

namespace Wergamon.App.Deliver;

/// <summary>How the files of a zip are made.</summary>
public sealed record ZipSettings
{
    public string TargetKey { get; init; } = "pocket-player";

    /// <summary>How the files are named, as a pattern.</summary>
    public string Names { get; init; } = DeliveredFiles.NumberedNames;

    /// <summary>True when the numbers of names are places in this order, not those of the albums.</summary>
    public bool IsNumbered { get; init; } = true;

    public bool HasPlaylist { get; init; } = true;

    public static ZipSettings Of(DeliveryRow row) => JsonSerializer.Deserialize(row.Settings, DeliverJson.Default.ZipSettings) ?? new ZipSettings();

    public string ToJson() => JsonSerializer.Serialize(this, DeliverJson.Default.ZipSettings);
}
