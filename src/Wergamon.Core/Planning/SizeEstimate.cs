using Wergamon.Core.Audio;
using Wergamon.Core.Formats;
using Wergamon.Core.Formats.Aiff;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Formats.Wav;

namespace Wergamon.Core.Planning;

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
    /// <summary>Lossless compression of music gives 50 to 70 % of PCM (common practice, no source); the middle of it.</summary>
    private const double LosslessShare = 0.6;

    private const int Mp3FrameSamples = 1152;
    private const int Mp3LowRateFrameSamples = 576;

    /// <summary>Encoder delay, decoder delay and the filling of the last frame: what is added to the music, in samples.</summary>
    private const int Mp3ExtraSamples = 576 + 529 + 288;

    /// <param name="route">The way to the new copy.</param>
    /// <param name="target">What it is made for.</param>
    /// <param name="tags">What the tags will take.</param>
    public static SizeEstimate For(Route route, Target target, TagCapacity tags)
    {
        long frames = route.OutputFrames;
        var format = route.Output;
        long id3Chunk = tags.Total == 0 ? 0 : Chunks.HeaderLength + tags.Id3Bytes + (tags.Id3Bytes & 1);
        return target.Kind switch
        {
            // The header of a compressed source need not know its length to the sample.
            FileKind.Wav => new SizeEstimate(WavWriter.FileLength(format, frames, id3Chunk), route.Source.IsLossless ? SizeBasis.Exact : SizeBasis.Bitrate),
            FileKind.Aiff => new SizeEstimate(AiffWriter.FileLength(format, frames, id3Chunk), route.Source.IsLossless ? SizeBasis.Exact : SizeBasis.Bitrate),
            FileKind.Mp3 => new SizeEstimate(Mp3Bytes(frames, format.Rate.Hertz, target.Mp3) + tags.Id3Bytes, target.Mp3.IsVariable ? SizeBasis.Experience : SizeBasis.Bitrate),
            _ => new SizeEstimate(FlacBytes(route, frames, format) + tags.FlacBytes, SizeBasis.Experience),
        };
    }

    private static long Mp3Bytes(long frames, int hertz, Mp3Quality quality)
    {
        int frameSamples = hertz >= 32_000 ? Mp3FrameSamples : Mp3LowRateFrameSamples;
        long mp3Frames = (frames + Mp3ExtraSamples + frameSamples - 1) / frameSamples + 1;
        return (long)(mp3Frames * (double)frameSamples * quality.KilobitsPerSecond(hertz) * 125 / hertz);
    }

    private static long FlacBytes(Route route, long frames, PcmFormat format) =>
        route is { Source.Kind: FileKind.Flac, Steps.Count: 1 }
            ? (long)(route.Source.KilobitsPerSecond * 125.0 * route.Source.Duration.TotalSeconds)
            : (long)(frames * format.BytesPerFrame * LosslessShare);
}
