using System.Text.Json;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>A stick: where it was last, and what plays it.</summary>
/// <param name="Place">The folder at its top.</param>
/// <param name="Mark">As the file on it says.</param>
public sealed record StickSettings(string Place, string Mark, string DeviceKey)
{
    /// <summary>
    /// The number of the folder where its file system gives one that lasts, so that a copy of it is not taken for the stick; 0 where it is
    /// not known.
    /// </summary>
    public long Number { get; init; }

    public static StickSettings Of(DeliveryRow row) =>
        JsonSerializer.Deserialize(row.Settings, StickRunsJson.Default.StickSettings)
            ?? throw new InvalidDataException($"Delivery {row.Id} does not say which stick it is.");

    public string ToJson() => JsonSerializer.Serialize(this, StickRunsJson.Default.StickSettings);
}
