using System.Globalization;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Tags.Id3v2;

/// <summary>
/// The 128 bytes at the end of old MP3 files (id3.org: ID3v1 and 1.1). Read only where no newer tag names the music; kept in agreement
/// where a file has them.
/// </summary>
public static class Id3v1
{
    public const int Length = 128;

    private const byte NoGenre = 255;

    public static bool IsAtEnd(Stream stream) => TryRead(stream, stackalloc byte[Length]);

    public static TagSet? Read(Stream stream)
    {
        Span<byte> tag = stackalloc byte[Length];
        if (!TryRead(stream, tag))
            return null;
        var tags = new TagSet();
        tags.Add(FieldNames.Title, LenientText.Read(tag[3..33]));
        tags.Add(FieldNames.Artist, LenientText.Read(tag[33..63]));
        tags.Add(FieldNames.Album, LenientText.Read(tag[63..93]));
        tags.Add(FieldNames.Year, LenientText.Read(tag[93..97]));
        tags.Add(FieldNames.Comment, LenientText.Read(tag[97..127]));
        if (tag[125] == 0 && tag[126] != 0)
            tags.Add(FieldNames.Track, tag[126].ToString(CultureInfo.InvariantCulture));
        if (Id3v1Genres.ByNumber(tag[127]) is { } genre)
            tags.Add(FieldNames.Genre, genre);
        return tags;
    }

    /// <summary>The tag with what fits: Latin-1, 30 characters a text, 28 for a comment beside a track number.</summary>
    public static byte[] Write(TagSet tags)
    {
        var tag = new byte[Length];
        "TAG"u8.CopyTo(tag);
        Put(tag.AsSpan(3, 30), tags.First(FieldNames.Title));
        Put(tag.AsSpan(33, 30), tags.First(FieldNames.Artist));
        Put(tag.AsSpan(63, 30), tags.First(FieldNames.Album));
        Put(tag.AsSpan(93, 4), tags.First(FieldNames.Year));
        bool hasNumber = tags.Number(FieldNames.Track) is >= 1 and <= 255;
        Put(tag.AsSpan(97, hasNumber ? 28 : 30), tags.First(FieldNames.Comment));
        if (hasNumber)
            tag[126] = (byte)tags.Number(FieldNames.Track)!.Value;
        tag[127] = Id3v1Genres.NumberOf(tags.First(FieldNames.Genre)) ?? NoGenre;
        return tag;
    }

    private static void Put(Span<byte> into, string? text)
    {
        foreach (char c in (text ?? "").AsSpan(0, Math.Min(text?.Length ?? 0, into.Length)))
        {
            into[0] = c is >= ' ' and <= 'ÿ' ? (byte)c : (byte)'?';
            into = into[1..];
        }
    }

    private static bool TryRead(Stream stream, Span<byte> tag)
    {
        if (stream.Length < Length)
            return false;
        stream.Position = stream.Length - Length;
        return stream.TryReadWhole(tag) && tag.StartsWith("TAG"u8) && !(tag.StartsWith("TAGEX"u8) && IsInApe(stream));
    }

    /// <summary>The marker of an APE tag, "APETAGEX", can be positioned so that its end looks like an ID3v1 tag.</summary>
    private static bool IsInApe(Stream stream)
    {
        Span<byte> before = stackalloc byte[3];
        if (stream.Length < Length + before.Length)
            return false;
        stream.Position = stream.Length - Length - before.Length;
        return stream.TryReadWhole(before) && before.SequenceEqual("APE"u8);
    }
}
