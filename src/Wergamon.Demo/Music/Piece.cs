namespace Wergamon.Demo.Music;

internal enum Style
{
    DanceBand,
    Songs,
    Chamber,
    Electronics,
    Club,
}

/// <summary>The parameters of a piece; everything else follows from them.</summary>
/// <param name="Root">The key note, 0 (C) to 11 (B).</param>
/// <param name="Seconds">At least this long; ends on a whole bar.</param>
/// <param name="Loudness">0.3 is quiet with wide dynamics, 1 is loud, above that the limiter is driven.</param>
internal sealed record Piece(ulong Seed, Style Style, double BeatsPerMinute, int Root, bool IsMinor, double Seconds, double Loudness)
{
    private static readonly string[] NoteNames = ["C", "D flat", "D", "E flat", "E", "F", "F sharp", "G", "A flat", "A", "B flat", "B"];

    public string Key => $"{NoteNames[Root]} {(IsMinor ? "minor" : "major")}";
}
