namespace Wergamon.Core.Discs.Burning;

/// <summary>A blank disc, as it says of itself.</summary>
/// <param name="Sectors">Room from the start of track 1 to the latest start of the lead-out.</param>
public sealed record DiscBlank(string Name, int Sectors)
{
    /// <summary>The bytes of a sector of data (ECMA-130, ECMA-267).</summary>
    public const int BytesPerDataSector = 2048;

    /// <summary>False for a disc that takes data alone.</summary>
    public bool TakesAudio { get; init; } = true;

    /// <summary>Room for data, in bytes.</summary>
    public long DataBytes => (long)Sectors * BytesPerDataSector;

    /// <summary>A DVD of 4.7 GB, which takes data alone (ECMA-337, from memory: 2,295,104 sectors).</summary>
    public static DiscBlank Dvd { get; } = new("4.7 GB", 2_295_104) { TakesAudio = false };

    /// <summary>Room for 74 minutes. <em>Common practice, from memory.</em></summary>
    public static DiscBlank Minutes74 { get; } = new("74 minutes", 333_000);

    /// <summary>Room for 79:57.74, as blanks of 80 minutes state it. <em>Common practice, from memory.</em></summary>
    public static DiscBlank Minutes80 { get; } = new("80 minutes", 359_849);
}
