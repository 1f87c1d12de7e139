namespace Wergamon.Core.Formats;

public enum SizeBasis
{
    /// <summary>Exact to the byte, from the number of samples.</summary>
    Exact,

    /// <summary>Within a frame or two, from a constant bitrate.</summary>
    Bitrate,

    /// <summary>Depends on the music; a typical value.</summary>
    Experience,
}

/// <summary>How large a new copy will be, tags and pictures included.</summary>
public readonly record struct SizeEstimate(long Bytes, SizeBasis Basis)
{
    /// <summary>Uncompressed samples: exact, unless the header of a compressed source may be off in its length.</summary>
    internal static SizeEstimate OfPcm(long bytes, PlannedSound sound) =>
        new(bytes, sound.Source.IsLossless ? SizeBasis.Exact : SizeBasis.Bitrate);

    /// <summary>Audio as the settings encode it, and tags.</summary>
    internal static SizeEstimate OfMeanRate(EncoderSettings settings, PlannedSound sound, long tagBytes) =>
        OfMeanRate(settings.MeanKilobits(sound.Format) ?? 0, sound, tagBytes);

    /// <summary>Audio at a mean bitrate, and tags.</summary>
    internal static SizeEstimate OfMeanRate(double kilobitsPerSecond, PlannedSound sound, long tagBytes) =>
        new((long)(kilobitsPerSecond * 125 * sound.Format.Duration(sound.Frames).TotalSeconds) + tagBytes, SizeBasis.Experience);
}
