namespace Wergamon.Core.Music;

/// <summary>How one key is related to the one before it.</summary>
public static class KeyRelation
{
    /// <summary>In words, as harmony names it: "same key", "a fifth up", "relative major".</summary>
    public static string InWords(MusicalKey from, MusicalKey to)
    {
        if (from == to)
            return "same key";
        if (from.IsMinor != to.IsMinor && from.Fifths == to.Fifths)
            return to.IsMinor ? "relative minor" : "relative major";
        if (from.Root == to.Root)
            return to.IsMinor ? "parallel minor" : "parallel major";
        int up = (to.Root - from.Root + 12) % 12;
        var step = up switch
        {
            1 => "a semitone up",
            2 => "a tone up",
            3 => "a minor third up",
            4 => "a major third up",
            5 => "a fifth down",
            6 => "a tritone",
            7 => "a fifth up",
            8 => "a major third down",
            9 => "a minor third down",
            10 => "a tone down",
            _ => "a semitone down",
        };
        return from.IsMinor == to.IsMinor ? step : $"{step}, to {(to.IsMinor ? "minor" : "major")}";
    }

    /// <summary>
    /// Steps along the line of fifths between the two signatures, and one for a change between major and minor that is not to the
    /// relative: 0 for the same key or the relative, 1 for a fifth, 7 at most. <em>Common practice, no source.</em>
    /// </summary>
    public static int Distance(MusicalKey from, MusicalKey to)
    {
        int around = Math.Abs(from.Fifths - to.Fifths);
        int fifths = Math.Min(around, 12 - around);
        return fifths + (from.IsMinor != to.IsMinor && fifths > 0 ? 1 : 0);
    }

    /// <summary>Keys that share all but one note of their scales, or all.</summary>
    public static bool IsNear(MusicalKey from, MusicalKey to) => Distance(from, to) <= 1;
}
