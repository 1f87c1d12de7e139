using Wergamon.Core.Audio;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Registry;

/// <summary>All that a file tells without being decoded: audio facts and tags.</summary>
/// <param name="Facts">Null for a file that only a decoder knows.</param>
/// <param name="Tags">Its tags and pictures.</param>
/// <param name="Damage">What could be read around, in words.</param>
public sealed record FileReading(AudioFacts? Facts, TagSet Tags, IReadOnlyList<string> Damage)
{
    /// <param name="stream">A seekable stream; its position is left undefined.</param>
    /// <exception cref="UnreadableAudioException">It is in a known format and holds no sound that can be read.</exception>
    public static FileReading Read(Stream stream)
    {
        if (stream.Length == 0)
            throw new UnreadableAudioException("The file is empty.");
        using var file = FileFormats.Open(stream);
        return file is null ? From(null, TagsAroundSound.Read(stream)) : From(file.ReadFacts(), file.ReadTags());
    }

    /// <summary>Reads the tags alone, in any dialect; a file without tags gives an empty set.</summary>
    /// <param name="stream">A seekable stream; its position is left undefined.</param>
    public static TagReading ReadTags(Stream stream)
    {
        using var file = FileFormats.Open(stream);
        return file?.ReadTags() ?? TagsAroundSound.Read(stream);
    }

    private static FileReading From(AudioFacts? facts, TagReading tags) =>
        facts?.Problem is { } problem
            ? throw new UnreadableAudioException(problem)
            : new FileReading(facts, tags.Tags, [.. (facts?.Damage ?? []).Concat(tags.Damage).Distinct()]);
}
