namespace Wergamon.Demo.Music;

internal enum Style
{
    DanceBand,
    Songs,
    Chamber,
    Electronics,
    Club,
}

/// <summary>What is fixed of a piece before it is played; everything else follows from it.</summary>
/// <param name="Root">The key note, 0 (C) to 11 (B).</param>
/// <param name="Seconds">At least this long; ends on a whole bar.</param>
/// <param name="Loudness">0.3 is quiet and wide in dynamics, 1 is loud, above that it is driven into the limit.</param>
internal sealed record Piece(ulong Seed, Style Style, double BeatsPerMinute, int Root, bool IsMinor, double Seconds, double Loudness)
{
    private static readonly string[] NoteNames = ["C", "D flat", "D", "E flat", "E", "F", "F sharp", "G", "A flat", "A", "B flat", "B"];

    public string Key => $"{NoteNames[Root]} {(IsMinor ? "minor" : "major")}";
}
