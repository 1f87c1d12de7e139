using System.Globalization;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Tags.Id3v2;

/// <summary>The 128 bytes at the end of old MP3 files (id3.org: ID3v1 and 1.1); read only, and only where no newer tag is.</summary>
public static class Id3v1
{
    public const int Length = 128;

    public static bool IsAtEnd(Stream stream) => TryRead(stream, stackalloc byte[Length]);

    public static TagSet? Read(Stream stream)
    {
        Span<byte> tag = stackalloc byte[Length];
        if (!TryRead(stream, tag))
            return null;
        var tags = new TagSet();
        tags.Add(FieldNames.Title, LooseText.Read(tag[3..33]));
        tags.Add(FieldNames.Artist, LooseText.Read(tag[33..63]));
        tags.Add(FieldNames.Album, LooseText.Read(tag[63..93]));
        tags.Add(FieldNames.Year, LooseText.Read(tag[93..97]));
        tags.Add(FieldNames.Comment, LooseText.Read(tag[97..127]));
        if (tag[125] == 0 && tag[126] != 0)
            tags.Add(FieldNames.Track, tag[126].ToString(CultureInfo.InvariantCulture));
        if (Id3v1Genres.ByNumber(tag[127]) is { } genre)
            tags.Add(FieldNames.Genre, genre);
        return tags;
    }

    private static bool TryRead(Stream stream, Span<byte> tag)
    {
        if (stream.Length < Length)
            return false;
        stream.Position = stream.Length - Length;
        return stream.TryReadWhole(tag) && tag.StartsWith("TAG"u8);
    }
}
