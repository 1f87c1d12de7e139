namespace Wergamon.Core.Discs.Burning;

/// <summary>A blank disc, as it says of itself.</summary>
/// <param name="Sectors">Room from the start of track 1 to the latest start of the lead-out.</param>
public sealed record DiscBlank(string Name, int Sectors)
{
    /// <summary>Room for 74 minutes. <em>Common practice, from memory.</em></summary>
    public static DiscBlank Minutes74 { get; } = new("74 minutes", 333_000);

    /// <summary>Room for 79:57.74, as blanks of 80 minutes state it. <em>Common practice, from memory.</em></summary>
    public static DiscBlank Minutes80 { get; } = new("80 minutes", 359_849);
}
