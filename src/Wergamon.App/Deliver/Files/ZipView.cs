using Wergamon.App.Runs;
using Wergamon.Core.Planning;

namespace Wergamon.App.Deliver.Files;

/// <summary>Files that are planned to be downloaded together.</summary>
public sealed record ZipView(DeliveryRow Row, ZipSettings Settings, Target Target, IReadOnlyList<DeliveredFile> Files)
{
    public long Bytes => Files.Sum(file => file.Planned?.Size.Bytes ?? 0);

    /// <summary>Why they cannot be made, for the person; null when they can.</summary>
    public string? Problem =>
        Files.Count == 0 ? "There is nothing to make yet."
        : Files.FirstOrDefault(file => file.Planned is null) is { } missing
            ? $"The file of “{missing.Title}” is missing. Scan its folder, or remove the track."
        : null;

    /// <summary>The newest run; null before the first.</summary>
    public RunRow? Run { get; init; }
}
