using System.Text.Json;

namespace Wergamon.App.Deliver;

/// <summary>How a disc of files is made.</summary>
public sealed record DataDiscSettings
{
    public string TargetKey { get; init; } = "car";

    /// <summary>How the files are named, as a pattern.</summary>
    public string Names { get; init; } = DeliveredFiles.NumberedNames;

    /// <summary>True when the numbers of names are places in this order, not those of the albums.</summary>
    public bool IsNumbered { get; init; } = true;

    public bool HasPlaylist { get; init; } = true;

    /// <summary>The blank that the disc is planned for while the burner holds none.</summary>
    public string BlankKey { get; init; } = "blank-80";

    public string Burner { get; init; } = "C";

    /// <summary>0 for the highest.</summary>
    public int Speed { get; init; }

    /// <summary>Where images go; null for the application's own folder.</summary>
    public string? ImageFolder { get; init; }

    public static DataDiscSettings Of(DeliveryRow row) => JsonSerializer.Deserialize(row.Settings, DeliverJson.Default.DataDiscSettings) ?? new DataDiscSettings();

    public string ToJson() => JsonSerializer.Serialize(this, DeliverJson.Default.DataDiscSettings);
}
