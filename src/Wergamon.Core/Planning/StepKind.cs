namespace Wergamon.Core.Planning;

public enum StepKind
{
    /// <summary>Several files one after the other.</summary>
    Join,

    /// <summary>A part of a longer file.</summary>
    Cut,

    /// <summary>Samples of zero left out at both ends.</summary>
    Trim,

    /// <summary>More bits of storage, the same values.</summary>
    Widen,

    /// <summary>Fewer bits of storage, the same values.</summary>
    Narrow,

    /// <summary>Channels rearranged, repeated or left out.</summary>
    Arrange,

    /// <summary>Many channels to stereo, or to mono.</summary>
    Downmix,

    Resample,

    /// <summary>Faded in or out.</summary>
    Fade,

    /// <summary>Louder or softer.</summary>
    Gain,

    /// <summary>Fewer bits, with dither.</summary>
    Requantise,

    Encode,

    /// <summary>Instead of encoding: the coded sound of the source goes into the new file as it is.</summary>
    Carry,
}
