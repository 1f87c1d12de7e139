namespace Wergamon.Core.Analysis.Comparing;

/// <summary>What the figures of a null test mean.</summary>
public enum NullVerdictKind
{
    /// <summary>Every sample is equal.</summary>
    Identical,

    /// <summary>Equal but for level or polarity.</summary>
    SameSound,

    /// <summary>They differ by what rounding or dither leaves.</summary>
    LastBits,

    /// <summary>Equal but for one part.</summary>
    Part,

    /// <summary>The same recording, encoded or processed.</summary>
    Loss,

    /// <summary>Much is alike, but not the recording as a whole.</summary>
    Related,

    /// <summary>Nothing of one is found in the other.</summary>
    Different,

    /// <summary>One of them is silent.</summary>
    Silence,
}
