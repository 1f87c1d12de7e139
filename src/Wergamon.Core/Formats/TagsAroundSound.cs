using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Ape;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Formats;

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

    /// <summary>A file with an ID3v2 tag at its start. APE and ID3v1 tags at its end, where it has them, are kept in agreement.</summary>
    internal static TagEdit EditAtStart(Stream source, TagSet tags, TagWriteOptions options)
    {
        var place = Find(source);
        var edit = new TagEdit();
        if (!tags.IsEmpty || place.Start > 0)
            edit.Add(Id3v2Writer.WriteInto(tags, VersionFor(source, 0, place.Start, options), place.Start));
        edit.Keep(place.Start, place.End - place.Start);
        if (place.HasApe)
            edit.Add(ApeTagWriter.Write(tags, withPictures: ApeTag.Read(source) is { Tags.Pictures.Count: > 0 }));
        if (place.HasId3v1)
            edit.Add(Id3v1.Write(tags));
        return edit;
    }

    /// <summary>A file with an APE tag at its end. ID3v2 and ID3v1 tags, where it has them, are kept in agreement.</summary>
    internal static TagEdit EditAtEnd(Stream source, TagSet tags, TagWriteOptions options)
    {
        var place = Find(source);
        var edit = new TagEdit();
        if (place.Start > 0)
            edit.Add(Id3v2Writer.WriteInto(tags, VersionFor(source, 0, place.Start, options), place.Start));
        edit.Keep(place.Start, place.End - place.Start);
        if (!tags.IsEmpty)
            edit.Add(ApeTagWriter.Write(tags));
        if (place.HasId3v1)
            edit.Add(Id3v1.Write(tags));
        return edit;
    }

    /// <summary>The hash of what is between the tags.</summary>
    internal static string HashSound(Stream stream)
    {
        var place = Find(stream);
        return RangeHash.Of(stream, place.Start, place.End);
    }

    /// <summary>Where tags at the end begin; the length of a file without any.</summary>
    internal static long EndOfSound(Stream stream) => Find(stream).End;

    /// <summary>The version of ID3v2 to write: the requested one, or that of the old tag.</summary>
    internal static int VersionFor(Stream stream, long offset, long length, TagWriteOptions options)
    {
        Span<byte> head = stackalloc byte[4];
        if (options.Id3v2Version is { } wanted)
            return wanted;
        stream.Position = offset;
        return length > 0 && stream.TryReadWhole(head) && head[3] == 4 ? 4 : 3;
    }

    private static Place Find(Stream stream)
    {
        long start = Math.Min(Id3v2Reader.LengthAtStart(stream), stream.Length), end = stream.Length;
        bool hasId3v1 = end - start >= Id3v1.Length && Id3v1.IsAtEnd(stream);
        if (hasId3v1)
            end -= Id3v1.Length;
        long ape = ApeTag.LengthBefore(stream, end);
        bool hasApe = ape > 0 && end - ape >= start;
        return new Place(start, hasApe ? end - ape : end, hasApe, hasId3v1);
    }

    private static bool NamesMusic(TagSet tags) =>
        tags.First(FieldNames.Title) is not null || tags.First(FieldNames.Artist) is not null || tags.First(FieldNames.Album) is not null;

    /// <summary>Where the sound starts and ends, and which tags follow it.</summary>
    private readonly record struct Place(long Start, long End, bool HasApe, bool HasId3v1);
}
