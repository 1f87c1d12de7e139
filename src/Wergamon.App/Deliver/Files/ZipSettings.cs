using System.Text.Json;

namespace Wergamon.App.Deliver.Files;

/// <summary>How the files of a zip are made.</summary>
public sealed record ZipSettings() : FileSettings("pocket-player")
{
    public static ZipSettings Of(DeliveryRow row) =>
        JsonSerializer.Deserialize(row.Settings, FilesJson.Default.ZipSettings) ?? new ZipSettings();

    public string ToJson() => JsonSerializer.Serialize(this, FilesJson.Default.ZipSettings);
}
