using Wergamon.Core.Discs.Burning;
using Wergamon.Devices.Drives;

namespace Wergamon.Devices.Burners;

/// <summary>A kind of blank disc on the shelf.</summary>
/// <param name="Label">What is written on its box.</param>
/// <param name="Blank">Its room.</param>
public sealed record BlankDisc(string Key, string Label, DiscBlank Blank)
{
    /// <summary>True for a disc that can be erased and written again.</summary>
    public bool IsRewritable { get; init; }

    /// <summary>Places where nothing can be written that reads back right.</summary>
    public IReadOnlyList<DiscFault> Faults { get; init; } = [];

    /// <summary>The sector at which the burner loses its track; null for a good disc.</summary>
    public int? FailsAt { get; init; }

    /// <summary>The shelf that ships with the application.</summary>
    public static IReadOnlyList<BlankDisc> Shelf { get; } =
    [
        new("blank-80", "80 minutes", DiscBlank.Minutes80),
        new("blank-74", "74 minutes", DiscBlank.Minutes74),
        new("dvd", "4.7 GB, for data", DiscBlank.Dvd),
        new("rewritable-80", "80 minutes, rewritable", DiscBlank.Minutes80) { IsRewritable = true },
        new("worn-80", "80 minutes, with bad places", DiscBlank.Minutes80)
        {
            Faults = [new DiscFault(FaultKind.Never, 2 * 75 * 588, 900) { Noticed = 1 }, new DiscFault(FaultKind.Never, 9_000 * 588, 300)]
        },
        new("bent-80", "80 minutes, bent", DiscBlank.Minutes80) { FailsAt = 4_500 },
    ];
}
