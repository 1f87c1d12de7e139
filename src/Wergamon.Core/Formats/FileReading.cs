using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Aiff;
using Wergamon.Core.Formats.Ape;
using Wergamon.Core.Formats.Asf;
using Wergamon.Core.Formats.Flac;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Formats.Mp3;
using Wergamon.Core.Formats.Mp4;
using Wergamon.Core.Formats.Ogg;
using Wergamon.Core.Formats.Wav;
using Wergamon.Core.Formats.WavPack;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats;

/// <summary>All that a file tells without being decoded: what sound it holds, and its tags.</summary>
/// <param name="Facts">Null for a file of a kind that only a decoder knows.</param>
/// <param name="Tags">Its tags and pictures.</param>
/// <param name="Damage">What could be read around, in words.</param>
public sealed record FileReading(AudioFacts? Facts, TagSet Tags, IReadOnlyList<string> Damage)
{
    private const long LongestSeconds = 366L * 24 * 3600;

    /// <summary>A head that holds both facts and tags is read once only.</summary>
    /// <param name="stream">A seekable stream; its position is left undefined.</param>
    /// <exception cref="UnreadableAudioException">It is of a known kind and holds no sound that can be read.</exception>
    public static FileReading Read(Stream stream)
    {
        Span<byte> start = stackalloc byte[12];
        stream.Position = 0;
        start = start[..stream.ReadUpTo(start)];
        if (start.IsEmpty)
            throw new UnreadableAudioException("The file is empty.");
        if (WavReader.Recognises(start))
            return From(OfPcm(FileKind.Wav, "WAV", new WavReader(stream)), RiffTags.Read(stream));
        if (AiffReader.Recognises(start))
            return From(OfPcm(FileKind.Aiff, "AIFF", new AiffReader(stream)), AiffTags.Read(stream));
        if (FlacTags.FindStart(stream) is { } flacStart)
        {
            var head = FlacTags.Read(stream, flacStart);
            return From(OfFlac(stream, head), head.AsReading());
        }

        if (OggPages.Open(stream) is { } pages)
            return From(OggHeader.Read(stream, pages), OggTags.Read(pages));
        if (Mp4Movie.Find(stream) is { } movie)
            return From(Mp4Header.Read(movie), Mp4Tags.Read(movie));
        if (AsfObjects.Open(stream) is { } objects)
            return From(AsfHeader.Read(stream, objects), AsfTags.Read(objects));
        var facts = WavPackHeader.Recognises(start)
            ? WavPackHeader.Read(stream)
            // Bare frames of MPEG audio come last: they have no mark of their own at the start.
            : ApeHeader.Read(stream) ?? Mp3Header.Read(stream);
        return From(facts, TagFile.Read(stream));
    }

    private static FileReading From(AudioFacts? facts, TagReading tags) =>
        facts?.FrameCount / facts?.Format.Rate.Hertz > LongestSeconds
            ? throw new UnreadableAudioException("The file claims to play for more than a year; its header is damaged.")
            : new FileReading(facts, tags.Tags, [.. (facts?.Damage ?? []).Concat(tags.Damage).Distinct()]);

    private static AudioFacts OfPcm(FileKind kind, string name, ChunkedPcmReader reader) =>
        new(kind, name, reader.Format, reader.FrameCount ?? 0, IsLossless: true, (int)Math.Round(reader.Format.BitRate / 1000.0)) { Damage = reader.Damage };

    private static AudioFacts? OfFlac(Stream stream, FlacHead head)
    {
        if (head.StreamInfo is not { } info)
            throw new UnreadableAudioException("The FLAC file does not say what sound it holds.");
        long audioBytes = stream.Length - head.AudioOffset;
        if (audioBytes <= 0)
            throw new UnreadableAudioException("The FLAC file has a header but no sound.");
        return info.FrameCount is { } frames
            ? new AudioFacts(FileKind.Flac, "FLAC", info.Format, frames, IsLossless: true, AudioFacts.MeanKilobits(audioBytes, frames, info.Format.Rate)) { Damage = head.Damage }
            : null;
    }
}
