using Wergamon.Core.Audio.Headers;
using Wergamon.Core.Tags.VorbisComment;

namespace Wergamon.Core.Audio;

/// <summary>Finds out what a file is without decoding it, for the kinds whose headers Core reads itself.</summary>
public static class FileFacts
{
    private const long LongestSeconds = 366L * 24 * 3600;

    /// <summary>The facts; null for a file of a kind that only a decoder knows.</summary>
    /// <param name="stream">A seekable stream; its position is left undefined.</param>
    /// <exception cref="UnreadableAudioException">It is of a known kind and holds no sound that can be read.</exception>
    public static AudioFacts? TryRead(Stream stream)
    {
        return Believe(ByKind(stream));
    }

    /// <exception cref="UnreadableAudioException">The length cannot be true.</exception>
    internal static AudioFacts? Believe(AudioFacts? facts)
    {
        if (facts?.FrameCount / facts?.Format.Rate.Hertz > LongestSeconds)
            throw new UnreadableAudioException("The file claims to play for more than a year; its header is damaged.");
        return facts;
    }

    private static AudioFacts? ByKind(Stream stream)
    {
        Span<byte> start = stackalloc byte[12];
        stream.Position = 0;
        start = start[..stream.ReadUpTo(start)];
        if (start.IsEmpty)
            throw new UnreadableAudioException("The file is empty.");
        if (WavReader.Recognises(start))
            return OfPcm(FileKind.Wav, "WAV", new WavReader(stream));
        if (AiffReader.Recognises(start))
            return OfPcm(FileKind.Aiff, "AIFF", new AiffReader(stream));
        if (FlacTags.FindStart(stream) is { } flacStart)
            return OfFlac(stream, FlacTags.Read(stream, flacStart));
        // Bare frames of MPEG audio come last: they have no mark of their own at the start.
        return OggHeader.Read(stream) ?? Mp4Header.Read(stream) ?? AsfHeader.Read(stream) ?? WavPackHeader.Read(stream) ?? ApeHeader.Read(stream) ?? OfFrames(stream, start);
    }

    /// <summary>In files that are known for something else, bytes that look like frames are chance.</summary>
    private static AudioFacts? OfFrames(Stream stream, ReadOnlySpan<byte> start) =>
        start.StartsWith("OggS"u8) || start.StartsWith("wvpk"u8) || (start.Length >= 8 && start[4..].StartsWith("ftyp"u8)) ? null : Mp3Header.Read(stream);

    private static AudioFacts OfPcm(FileKind kind, string name, ChunkedPcmReader reader) =>
        new(kind, name, reader.Format, reader.FrameCount ?? 0, IsLossless: true, (int)Math.Round(reader.Format.BitRate / 1000.0)) { Damage = reader.Damage };

    internal static AudioFacts? OfFlac(Stream stream, FlacHead head)
    {
        if (head.StreamInfo is not { } info)
            throw new UnreadableAudioException("The FLAC file does not say what sound it holds.");
        long audioBytes = stream.Length - head.AudioOffset;
        if (audioBytes <= 0)
            throw new UnreadableAudioException("The FLAC file has a header but no sound.");
        if (info.FrameCount is not { } frames)
            return null;
        return new AudioFacts(FileKind.Flac, "FLAC", info.Format, frames, IsLossless: true, AudioFacts.MeanKilobits(audioBytes, frames, info.Format.Rate)) { Damage = head.Damage };
    }
}
