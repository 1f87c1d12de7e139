using Wergamon.Core.Audio;
using Wergamon.Core.Audio.Headers;
using Wergamon.Core.Tags.Asf;
using Wergamon.Core.Tags.Mp4;
using Wergamon.Core.Tags.Ogg;
using Wergamon.Core.Tags.VorbisComment;

namespace Wergamon.Core.Tags;

/// <summary>All that the head of a file tells, read in one go.</summary>
/// <param name="Facts">Null for a file of a kind that only a decoder knows.</param>
/// <param name="Tags">Its tags and pictures.</param>
/// <param name="Damage">What could be read around, in words.</param>
public sealed record FileReading(AudioFacts? Facts, TagSet Tags, IReadOnlyList<string> Damage)
{
    /// <summary>Gives the same as <see cref="FileFacts.TryRead"/> and <see cref="TagFile.Read"/> and reads a head that holds both once only.</summary>
    /// <param name="stream">A seekable stream; its position is left undefined.</param>
    /// <exception cref="UnreadableAudioException">It holds no sound that can be read.</exception>
    public static FileReading Read(Stream stream)
    {
        if (FlacTags.FindStart(stream) is { } flacStart)
        {
            var head = FlacTags.Read(stream, flacStart);
            return From(FileFacts.OfFlac(stream, head), head.AsReading());
        }

        if (OggPages.Open(stream) is { } pages)
            return From(OggHeader.Read(stream, pages), OggTags.Read(pages));
        if (Mp4Movie.Find(stream) is { } movie)
            return From(Mp4Header.Read(movie), Mp4Tags.Read(movie));
        return AsfObjects.Open(stream) is { } objects
            ? From(AsfHeader.Read(stream, objects), AsfTags.Read(objects))
            : From(FileFacts.TryRead(stream), TagFile.Read(stream));
    }

    private static FileReading From(AudioFacts? facts, TagReading tags) =>
        new(FileFacts.Believe(facts), tags.Tags, [.. (facts?.Damage ?? []).Concat(tags.Damage).Distinct()]);
}
