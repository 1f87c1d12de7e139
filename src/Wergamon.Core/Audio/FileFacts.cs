using Wergamon.Core.Tags.VorbisComment;

namespace Wergamon.Core.Audio;

/// <summary>Finds out what a file is without decoding it, for the kinds whose headers Core reads itself.</summary>
public static class FileFacts
{
    /// <summary>The facts; null for a file of a kind that only a decoder knows.</summary>
    /// <param name="stream">A seekable stream; its position is left undefined.</param>
    /// <exception cref="UnreadableAudioException">It is of a known kind and holds no sound that can be read.</exception>
    public static AudioFacts? TryRead(Stream stream)
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
        return FlacTags.FindStart(stream) is { } flacStart ? OfFlac(stream, flacStart) : null;
    }

    private static AudioFacts OfPcm(FileKind kind, string name, ChunkedPcmReader reader) =>
        new(kind, name, reader.Format, reader.FrameCount ?? 0, IsLossless: true, (int)Math.Round(reader.Format.BitRate / 1000.0)) { Damage = reader.Damage };

    private static AudioFacts? OfFlac(Stream stream, long start)
    {
        var head = FlacTags.Read(stream, start);
        if (head.StreamInfo is not { } info)
            throw new UnreadableAudioException("The FLAC file does not say what sound it holds.");
        long audioBytes = stream.Length - head.AudioOffset;
        if (audioBytes <= 0)
            throw new UnreadableAudioException("The FLAC file has a header but no sound.");
        if (info.FrameCount is not { } frames)
            return null;
        double seconds = info.Format.Duration(frames).TotalSeconds;
        return new AudioFacts(FileKind.Flac, "FLAC", info.Format, frames, IsLossless: true, (int)Math.Round(audioBytes * 8 / seconds / 1000)) { Damage = head.Damage };
    }
}
