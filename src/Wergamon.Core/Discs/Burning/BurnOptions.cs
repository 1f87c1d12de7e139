namespace Wergamon.Core.Discs.Burning;

/// <summary>How tracks follow each other on a disc.</summary>
/// <param name="PauseSectors">Sectors of silence before each track but the first; 0 for none.</param>
public sealed record BurnOptions(int PauseSectors)
{
    /// <summary>
    /// Without pauses: samples that do not fill a sector are completed by the next track, so that nothing is lost or doubled.
    /// </summary>
    public static BurnOptions Gapless { get; } = new(0);

    /// <summary>Two seconds. <em>Common practice, no source.</em></summary>
    public static BurnOptions WithPauses { get; } = new(2 * AudioDisc.SectorsPerSecond);

    /// <summary>True to hide the first track before track 1, where a player gets by rewinding from its start.</summary>
    public bool IsFirstHidden { get; init; }
}
