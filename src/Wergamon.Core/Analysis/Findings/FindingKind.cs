namespace Wergamon.Core.Analysis.Findings;

/// <summary>What a file may be other than it says, or may have suffered.</summary>
public enum FindingKind
{
    /// <summary>The spectrum stops where lossy encoders cut.</summary>
    LossyAncestor,

    /// <summary>The spectrum stops short for a reason that is not seen.</summary>
    LowPassed,

    /// <summary>Nothing above the limit of a lower sample rate.</summary>
    Upsampled,

    /// <summary>Low bits that are always zero.</summary>
    PaddedBits,

    /// <summary>Peaks cut flat at a ceiling.</summary>
    Clipped,

    /// <summary>Both sides are the same.</summary>
    MonoInStereo,

    /// <summary>One side is the other with opposite polarity.</summary>
    OutOfPhase,

    /// <summary>The low-frequency channel does not stand where it should.</summary>
    ChannelOrder,

    /// <summary>Long digital silence at the start, the end or inside.</summary>
    Silence,

    /// <summary>The audio stops abruptly and continues.</summary>
    Dropout,

    /// <summary>Single samples out of line.</summary>
    Clicks,
}
