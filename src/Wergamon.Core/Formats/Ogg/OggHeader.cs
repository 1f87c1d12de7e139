using Wergamon.Core.Audio;

namespace Wergamon.Core.Formats.Ogg;

/// <summary>The facts of a file in Ogg, from its first packet and its last page.</summary>
internal static class OggHeader
{
    /// <summary>Null for codecs and chained streams whose facts only a decoder knows.</summary>
    public static AudioFacts? Read(Stream stream, OggPages pages, FileFormat format, IOggCodec? codec)
    {
        // Header packets before the audio: three for Vorbis, two for Opus and at least two for FLAC.
        var packets = pages.FirstPackets(2);
        if (packets.Count == 0)
            throw new UnreadableAudioException("The file ends before it says what audio it holds.");
        if (codec?.ReadIdentity(packets[0].Span) is not { } identity)
            return null;
        long soundBytes = stream.Length - pages.Offset;
        if (soundBytes <= 0)
            throw new UnreadableAudioException("The file has a header but no audio.");
        long? frames = identity.Frames ?? pages.LastPosition() - codec.StartOf(pages) - identity.Skipped;
        if (frames is not { } known)
            return null;
        if (known <= 0)
            throw new UnreadableAudioException("The file has a header but no audio.");
        bool isLossless = !identity.Format.IsFloat;
        return new AudioFacts(
            format, identity.Codec, identity.Format, known, isLossless, AudioFacts.MeanKilobits(soundBytes, known, identity.Format.Rate))
        {
            IsVariableBitRate = isLossless ? null : identity.IsVariable,
        };
    }

    /// <summary>A sentence where a finished file does not state the length that it has; null when all is right.</summary>
    public static string? FindFalseLength<TFormat>(Stream stream, TFormat format, long frames) where TFormat : FileFormat, IOggCodec
    {
        using var pages = OggPages.Open(stream);
        return pages is not null && Read(stream, pages, format, format)?.FrameCount == frames
            ? null
            : "The last page of the new file does not state the length that is in it.";
    }
}
