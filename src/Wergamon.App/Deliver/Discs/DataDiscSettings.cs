using System.Text.Json;

namespace Wergamon.App.Deliver.Discs;

/// <summary>How a disc of files is made.</summary>
public sealed record DataDiscSettings() : FileSettings("car")
{
    /// <summary>The blank that the disc is planned for while the burner holds none.</summary>
    public string BlankKey { get; init; } = "blank-80";

    public string Burner { get; init; } = "C";

    /// <summary>0 for the highest.</summary>
    public int Speed { get; init; }

    /// <summary>Where images go; null for the application's own folder.</summary>
    public string? ImageFolder { get; init; }

    public static DataDiscSettings Of(DeliveryRow row) =>
        JsonSerializer.Deserialize(row.Settings, DiscRunsJson.Default.DataDiscSettings) ?? new DataDiscSettings();

    public string ToJson() => JsonSerializer.Serialize(this, DiscRunsJson.Default.DataDiscSettings);
}
