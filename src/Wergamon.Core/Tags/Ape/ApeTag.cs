using System.Buffers.Binary;
using System.Globalization;
using System.Text;
using Wergamon.Core.Bytes;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Tags.Ape;

/// <summary>The tag at the end of APE and WavPack files (APEv2, from memory), now and then of MP3 files too.</summary>
public static class ApeTag
{
    public const string Dialect = "APE";

    private const int FooterLength = 32;
    private const uint HasHeader = 0x8000_0000;

    /// <summary>Length of a tag that ends at an offset, in bytes; 0 when there is none.</summary>
    internal static long LengthBefore(Stream stream, long end)
    {
        Span<byte> footer = stackalloc byte[FooterLength];
        return ReadFooter(stream, end, footer) ? LengthOf(footer, end) ?? 0 : 0;
    }

    /// <summary>Reads the tag at the end of a file, before an ID3v1 tag where there is one; null without any.</summary>
    internal static TagReading? Read(Stream stream)
    {
        long end = stream.Length;
        if (Id3v1.IsAtEnd(stream))
            end -= Id3v1.Length;
        Span<byte> footer = stackalloc byte[FooterLength];
        if (!ReadFooter(stream, end, footer))
            return null;
        uint length = BinaryPrimitives.ReadUInt32LittleEndian(footer[12..]);
        uint count = BinaryPrimitives.ReadUInt32LittleEndian(footer[16..]);
        var tags = new TagSet();
        if (length < FooterLength || length > end)
            return new TagReading(tags, ["The tag at the end claims more than the file holds."]);
        stream.Position = end - length;
        if (stream.TryReadBlock(length - FooterLength) is not { } items)
            return new TagReading(tags, ["The tag at the end could not be read."]);
        var cursor = new ByteCursor(items);
        for (uint i = 0; i < Math.Min(count, Limits.MaxParts) && !cursor.IsPastEnd; i++)
            ReadItem(ref cursor, tags);
        return new TagReading(
            tags,
            cursor.IsPastEnd ? ["The tag at the end is damaged; the rest was skipped."]
            : count > Limits.MaxParts
                ? [
                    string.Create(
                        CultureInfo.InvariantCulture, $"The tag at the end has more than {Limits.MaxParts} fields; the rest was left out.")
                ]
            : []);
    }

    private static bool ReadFooter(Stream stream, long end, Span<byte> footer)
    {
        if (end < FooterLength)
            return false;
        stream.Position = end - FooterLength;
        return stream.TryReadWhole(footer) && footer.StartsWith("APETAGEX"u8);
    }

    private static long? LengthOf(ReadOnlySpan<byte> footer, long end)
    {
        long length = BinaryPrimitives.ReadUInt32LittleEndian(footer[12..])
            + ((BinaryPrimitives.ReadUInt32LittleEndian(footer[20..]) & HasHeader) != 0 ? FooterLength : 0);
        return length <= end ? length : null;
    }

    private static void ReadItem(ref ByteCursor cursor, TagSet into)
    {
        uint length = cursor.UInt32LittleEndian();
        uint flags = cursor.UInt32LittleEndian();
        int keyLength = cursor.Rest.IndexOf((byte)0);
        if (keyLength < 0)
        {
            cursor.Skip(int.MaxValue);
            return;
        }

        var key = Encoding.ASCII.GetString(cursor.Take(keyLength));
        cursor.Skip(1);
        var value = cursor.Take(length);
        switch (flags >> 1 & 3)
        {
            case 0:
                AddText(key, value, into);
                break;
            case 1 when ApeTagNames.KindOf(key) is { } kind && value.IndexOf((byte)0) is >= 0 and var nameLength
                && nameLength + 1 < value.Length:
                var data = value[(nameLength + 1)..];
                into.Pictures.Add(
                    new Picture(
                        kind, PictureSize.MimeTypeOf(data) ?? (value[..nameLength].EndsWith(".png"u8) ? "image/png" : "image/jpeg"), "",
                        data.ToArray()));
                break;
            case var _ when ApeTagNames.IsKey(key):
                into.Opaque.Add(new OpaqueField(Dialect, key, (byte[])[.. BitConverter.GetBytes(flags), .. value]));
                break;
        }
    }

    private static void AddText(string key, ReadOnlySpan<byte> text, TagSet into)
    {
        var name = ApeTagNames.FieldOf(key);
        while (!text.IsEmpty && !into.IsCut)
        {
            int end = text.IndexOf((byte)0);
            into.AddNumbered(name, Encoding.UTF8.GetString(end < 0 ? text : text[..end]));
            text = end < 0 ? [] : text[(end + 1)..];
        }
    }
}
