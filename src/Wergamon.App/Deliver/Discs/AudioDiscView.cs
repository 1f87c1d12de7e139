using Wergamon.App.Runs;
using Wergamon.Core.Discs;
using Wergamon.Core.Discs.Burning;
using Wergamon.Devices.Burners;

namespace Wergamon.App.Deliver.Discs;

/// <summary>An audio disc that is planned, against the blank that it will be written to.</summary>
/// <param name="Blank">Of the disc in the burner, or the one that is planned for.</param>
/// <param name="Burner">The chosen one.</param>
public sealed record AudioDiscView(
    DeliveryRow Row, AudioDiscSettings Settings, IReadOnlyList<AudioDiscLine> Lines, DiscLayout Layout, DiscBlank Blank, IDiscBurner Burner)
{
    /// <summary>Why it cannot be burned, for the person; null when it can.</summary>
    public string? Problem => Lines.FirstOrDefault(line => line.IsMissing) is { } missing
        ? $"The file of “{missing.Title}” is missing. Scan its folder, or remove the track from the disc."
        : Layout.ProblemFor(Blank);

    public bool IsTooLong => Layout.LeadOut > Blank.Sectors || Layout.Tracks is [.., { Number: > AudioDisc.MaxTracks }];

    /// <summary>Positions that could be removed so that the rest fits.</summary>
    public IReadOnlyList<AudioDiscLine> ToLeaveOut { get; init; } = [];

    /// <summary>How many tracks each disc would take; fewer than two if splitting does not help.</summary>
    public IReadOnlyList<int> Split { get; init; } = [];

    /// <summary>The newest run; null before the first.</summary>
    public RunRow? Run { get; init; }
}
