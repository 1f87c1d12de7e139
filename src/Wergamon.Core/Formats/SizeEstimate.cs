namespace Wergamon.Core.Formats;

public enum SizeBasis
{
    /// <summary>Follows from the number of samples, to the byte.</summary>
    Exact,

    /// <summary>Follows from a constant bitrate, to a frame or two.</summary>
    Bitrate,

    /// <summary>Depends on the music; from experience with music at large.</summary>
    Experience,
}

/// <summary>How large a new copy will be, tags and pictures included.</summary>
public readonly record struct SizeEstimate(long Bytes, SizeBasis Basis)
{
    /// <summary>Samples as they are: exact, unless the header of a compressed source need not know its length to the sample.</summary>
    internal static SizeEstimate OfPcm(long bytes, PlannedSound sound) => new(bytes, sound.Source.IsLossless ? SizeBasis.Exact : SizeBasis.Bitrate);
}
