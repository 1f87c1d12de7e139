using Wergamon.Core.Tags.Ape;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Tags;

/// <summary>Tags before or after the audio, in formats without a place of their own for them.</summary>
public static class TagsAroundSound
{
    /// <summary>
    /// ID3v2 at the start and APE at the end; of a field that both have, the first counts. ID3v1, which cuts off names, only where
    /// neither names the music: some programs add a tag that holds loudness values alone.
    /// </summary>
    /// <param name="stream">A seekable stream; its position is left undefined.</param>
    public static TagReading Read(Stream stream)
    {
        var reading = Id3v2Reader.ReadAtStart(stream);
        if (ApeTag.Read(stream) is { } ape)
            reading = Join(reading, ape);
        if (!NamesMusic(reading.Tags) && Id3v1.Read(stream) is { } old)
            reading.Tags.AddMissing(old);
        return reading;
    }

    /// <summary>The fields of both; of a field that both have, those of the first.</summary>
    internal static TagReading Join(TagReading first, TagReading second)
    {
        first.Tags.AddMissing(second.Tags);
        return new TagReading(first.Tags, [.. first.Damage, .. second.Damage]);
    }

    private static bool NamesMusic(TagSet tags) => tags.First(FieldNames.Title) is not null || tags.First(FieldNames.Artist) is not null || tags.First(FieldNames.Album) is not null;
}
