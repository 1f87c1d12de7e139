using System.Buffers.Binary;
using System.Text;

namespace Wergamon.Core.Tags.Ape;

/// <summary>Writes APE tags (APEv2, from memory; held against python3-mutagen) with header and footer.</summary>
internal static class ApeTagWriter
{
    private const int FrameLength = 32;
    private const uint Version = 2000;
    private const uint HasHeader = 1u << 31, IsHeader = 1u << 29;
    private const uint Binary = 2;

    /// <summary>A whole tag; empty for tags without anything that it holds.</summary>
    /// <param name="withPictures">False where another tag of the file holds the pictures: some decoders take their bytes for sound.</param>
    public static byte[] Write(TagSet tags, bool withPictures = true)
    {
        var items = new MemoryStream();
        uint count = 0;
        foreach (var field in tags.Fields.Where(ApeDialect.Instance.CanHold))
        {
            if (TextOf(field, tags) is not { } text)
                continue;
            WriteItem(items, ApeTagNames.KeyOf(field.Name), 0, Encoding.UTF8.GetBytes(text));
            count++;
        }

        foreach (var picture in withPictures ? ApeDialect.Instance.Select(tags).Pictures : [])
        {
            byte[] name = Encoding.UTF8.GetBytes(picture.MimeType == "image/png" ? "cover.png" : "cover.jpg");
            WriteItem(items, ApeTagNames.KeyOf(picture.Kind), Binary, [.. name, 0, .. picture.Data.Span]);
            count++;
        }

        foreach (var field in tags.Opaque.Where(field => field.Dialect == ApeTag.Dialect))
        {
            // The flags of the item come before its value.
            WriteItem(items, field.Id, BinaryPrimitives.ReadUInt32LittleEndian(field.Data.Span), field.Data.Span[4..]);
            count++;
        }

        if (count == 0)
            return [];
        var tag = new MemoryStream((int)items.Length + 2 * FrameLength);
        WriteFrame(tag, items.Length, count, HasHeader | IsHeader);
        items.WriteTo(tag);
        WriteFrame(tag, items.Length, count, HasHeader);
        return tag.ToArray();
    }

    /// <summary>A number and its total share an item; null for a total that goes with its number.</summary>
    private static string? TextOf(TagField field, TagSet tags)
    {
        string? Total(string name) => tags.First(name) is { } total ? "/" + total : "";
        return field.Name.ToLowerInvariant() switch
        {
            FieldNames.Track => field.Values[0] + Total(FieldNames.TrackTotal) + Rest(field),
            FieldNames.Disc => field.Values[0] + Total(FieldNames.DiscTotal) + Rest(field),
            FieldNames.TrackTotal when tags.First(FieldNames.Track) is not null => null,
            FieldNames.DiscTotal when tags.First(FieldNames.Disc) is not null => null,
            _ => string.Join('\0', field.Values),
        };
    }

    private static string Rest(TagField field) => string.Concat(field.Values.Skip(1).Select(value => "\0" + value));

    private static void WriteItem(MemoryStream stream, string key, uint flags, ReadOnlySpan<byte> value)
    {
        WriteUInt32(stream, (uint)value.Length);
        WriteUInt32(stream, flags);
        stream.Write(Encoding.ASCII.GetBytes(key));
        stream.WriteByte(0);
        stream.Write(value);
    }

    private static void WriteFrame(MemoryStream stream, long itemsLength, uint count, uint flags)
    {
        stream.Write("APETAGEX"u8);
        WriteUInt32(stream, Version);
        WriteUInt32(stream, (uint)(itemsLength + FrameLength));
        WriteUInt32(stream, count);
        WriteUInt32(stream, flags);
        stream.Write(new byte[8]);
    }

    private static void WriteUInt32(MemoryStream stream, uint value)
    {
        Span<byte> bytes = stackalloc byte[4];
        BinaryPrimitives.WriteUInt32LittleEndian(bytes, value);
        stream.Write(bytes);
    }
}
