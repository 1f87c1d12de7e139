namespace Wergamon.Core.Planning;

/// <summary>Which channels copies have.</summary>
public enum ChannelChoice
{
    AsSource,

    /// <summary>More than two are downmixed.</summary>
    AtMostStereo,

    /// <summary>More than two are downmixed, one goes to both sides.</summary>
    Stereo,

    /// <summary>Everything is mixed to one.</summary>
    Mono,

    /// <summary>Only the left one, after a downmix of more than two.</summary>
    Left,

    /// <summary>Only the right one, after a downmix of more than two.</summary>
    Right,

    /// <summary>Left and right change places, at the front, sides and back.</summary>
    Swapped,
}
