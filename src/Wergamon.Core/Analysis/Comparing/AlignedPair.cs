namespace Wergamon.Core.Analysis.Comparing;

/// <summary>
/// Where the second of two signals lies against the first: frame n of the first is heard at <c>Offset + Fraction + n * Speed</c> of the
/// second.
/// </summary>
/// <param name="Offset">Whole frames by which the second is late; negative when it is early.</param>
/// <param name="Fraction">What remains, from -0.5 to 0.5 frames; 0 where whole frames fit.</param>
/// <param name="Speed">Frames of the second for one of the first; 1 at the same speed, below 1 when the second runs faster.</param>
/// <param name="Correlation">How alike both are at this place, from 0 to 1.</param>
/// <param name="IsReversed">True when the second has the opposite polarity.</param>
public sealed record AlignedPair(long Offset, double Fraction, double Speed, double Correlation, bool IsReversed)
{
    /// <summary>Below this nothing in one signal is found again in the other.</summary>
    public const double MinCorrelation = 0.35;

    public bool IsFound => Correlation >= MinCorrelation;

    /// <summary>Whether samples of both coincide as they are.</summary>
    public bool IsWhole => Fraction == 0 && Speed == 1;

    /// <summary>The frame of the first signal at which the second begins.</summary>
    public long FirstFrame => (long)Math.Ceiling(-(Offset + Fraction) / Speed);

    /// <summary>What of the second is heard there, in frames: less than one.</summary>
    public double StartOfSecond => Offset + Fraction + FirstFrame * Speed;
}
