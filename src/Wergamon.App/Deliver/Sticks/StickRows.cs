using System.Text.Json;
using Wergamon.App.Library;
using Wergamon.Core.Sticks;

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
        JsonSerializer.Deserialize(row.Settings, DeliverJson.Default.StickSettings)
            ?? throw new InvalidDataException($"Delivery {row.Id} does not say which stick it is.");

    public string ToJson() => JsonSerializer.Serialize(this, DeliverJson.Default.StickSettings);
}

/// <summary>A set, an album or tracks that a stick should hold.</summary>
public sealed record StickListRow
{
    public long Id { get; init; }

    public string Title { get; init; } = "";

    /// <summary>Of a set; null for a part of the library.</summary>
    public long? ListId { get; init; }

    /// <summary>As JSON; null for a set.</summary>
    public string? Part { get; init; }

    public LibraryPart? ReadPart() => Part is null ? null : LibraryPart.Read(Part);
}

/// <summary>A file that was written to a stick.</summary>
/// <param name="Sent">What the library said of the track then.</param>
/// <param name="Held">What the file held then: not every format holds every field.</param>
public sealed record StickFile(WrittenFile File, StickNotes Sent, StickNotes Held);

/// <summary>A file that somebody put on a stick and that was copied into the library.</summary>
/// <param name="Path">On the stick.</param>
/// <param name="CopyPath">In the library.</param>
/// <param name="Stamp">Of the file on the stick then.</param>
internal sealed record StickImport(string Path, string CopyPath, StickStamp Stamp);
