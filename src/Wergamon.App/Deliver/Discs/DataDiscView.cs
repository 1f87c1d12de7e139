using Wergamon.App.Runs;
using Wergamon.Core.Discs.Burning;
using Wergamon.Core.Planning;
using Wergamon.Devices.Burners;

namespace Wergamon.App.Deliver.Discs;

/// <summary>A disc of files that is planned.</summary>
/// <param name="Sectors">Sectors of 2,048 bytes that the files, folders and the playlist will take.</param>
/// <param name="Blank">Of the disc in the burner, or the one that is planned for.</param>
public sealed record DataDiscView(
    DeliveryRow Row, DataDiscSettings Settings, Target Target, IReadOnlyList<DeliveredFile> Files, long Sectors, DiscBlank Blank,
    IDiscBurner Burner)
{
    public long Bytes => Sectors * DiscBlank.BytesPerDataSector;

    /// <summary>Why it cannot be made, for the person; null when it can.</summary>
    public string? Problem =>
        Files.Count == 0 ? "There is nothing to burn yet."
        : Files.FirstOrDefault(file => file.Planned is null) is { } missing
            ? $"The file of “{missing.Title}” is missing. Scan its folder, or remove the track from the disc."
        : null;

    /// <summary>
    /// True if it is larger than the disc. Sizes of lossy files are estimates; the finished files decide.
    /// </summary>
    public bool IsTooLarge => Sectors > Blank.Sectors;

    /// <summary>The newest run; null before the first.</summary>
    public RunRow? Run { get; init; }
}
