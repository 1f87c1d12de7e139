using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Opus;
using Wergamon.Core.Formats.Vorbis;

namespace Wergamon.Core.Formats.Ogg;

/// <summary>Vorbis (Vorbis I specification, 4.2), Opus (RFC 7845, section 5) and FLAC (RFC 9639, section 10.1) in Ogg.</summary>
internal static class OggHeader
{
    /// <summary>Null for codecs and chained streams whose facts only a decoder knows.</summary>
    public static AudioFacts? Read(Stream stream, OggPages pages, FileFormat format)
    {
        // Header packets before the audio: three for Vorbis, two for Opus and at least two for FLAC.
        var packets = pages.FirstPackets(2);
        if (packets.Count == 0)
            throw new UnreadableAudioException("The file ends before it says what audio it holds.");
        if (ReadIdentity(packets[0].Span) is not { } identity)
            return null;
        long soundBytes = stream.Length - pages.Offset;
        if (soundBytes <= 0)
            throw new UnreadableAudioException("The file has a header but no audio.");
        // A stream that was cut out of a longer one starts at a later position (RFC 7845, section 4.1).
        long before = identity.Codec == "Opus" ? Math.Max(0, pages.FirstPosition(packet => OpusPacket.FramesOf(packet.Span)) ?? 0) : 0;
        long? frames = identity.Frames ?? pages.LastPosition() - before - identity.Skipped;
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
    public static string? FindFalseLength(Stream stream, FileFormat format, long frames)
    {
        using var pages = OggPages.Open(stream);
        return pages is not null && Read(stream, pages, format)?.FrameCount == frames
            ? null
            : "The last page of the new file does not state the length that is in it.";
    }

    private static Identity? ReadIdentity(ReadOnlySpan<byte> packet)
    {
        var cursor = new ByteCursor(packet);
        if (packet.StartsWith(VorbisFormat.Mark))
        {
            cursor.Skip(7 + 4);
            int channels = cursor.Byte();
            uint rate = cursor.UInt32LittleEndian();
            uint most = cursor.UInt32LittleEndian();
            cursor.Skip(4);
            uint least = cursor.UInt32LittleEndian();
            return Describe(cursor, "Vorbis", channels, rate, 0, isVariable: most == 0 || most != least);
        }

        if (packet.StartsWith(OpusFormat.Mark))
        {
            cursor.Skip(9);
            int channels = cursor.Byte();
            int skip = cursor.UInt16LittleEndian();
            return Describe(cursor, "Opus", channels, OpusFormat.Rate, skip, isVariable: true);
        }

        if (!packet.StartsWith("\u007FFLAC"u8) || packet.Length < 17 + FlacStreamInfo.Length
            || FlacStreamInfo.Read(packet[17..]) is not { } info)
            return null;
        return new Identity("FLAC", info.Format, info.FrameCount, 0, false);
    }

    private static Identity? Describe(ByteCursor read, string codec, int channels, uint rate, int skipped, bool isVariable) =>
        read.IsPastEnd || !HeaderLimits.IsSound(channels, rate)
            ? null
            : new Identity(codec, new PcmFormat(new SampleRate((int)rate), channels, 32, SampleKind.Float), null, skipped, isVariable);

    /// <param name="Frames">Null where only the last page tells.</param>
    /// <param name="Skipped">Samples at the start that a decoder discards.</param>
    private sealed record Identity(string Codec, PcmFormat Format, long? Frames, int Skipped, bool IsVariable);
}
