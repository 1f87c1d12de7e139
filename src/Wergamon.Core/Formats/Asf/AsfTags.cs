using System.Buffers.Binary;
using System.Collections.Frozen;
using System.Globalization;
using System.Text;
using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Mapping;
using Wergamon.Core.Tags.VorbisComment;

namespace Wergamon.Core.Formats.Asf;

/// <summary>
/// The descriptions in the header of ASF files (Advanced Systems Format specification, 3.10, 3.11 and 4.8). An attribute without a field of
/// its own keeps its name. What is no text is carried as its type, in two bytes, and its value; a number or a flag is a field as well, and
/// keeps its type as long as the field says the same.
/// </summary>
public static class AsfTags
{
    public const string Dialect = FieldMap.AsfDialect;

    /// <summary>Attributes about the sound of this very file, not about the music.</summary>
    private static readonly FrozenSet<string> SoundAttributes = FrozenSet.Create(
        StringComparer.OrdinalIgnoreCase, "WMFSDKVersion", "WMFSDKNeeded", "IsVBR", "DeviceConformanceTemplate", "WM/EncodingSettings",
        "WM/EncodingTime", "PeakValue", "AverageLevel", "ASFLeakyBucketPairs", "Bitrate", "Duration");

    /// <summary>The fields of the content description, in its order; rating comes last and stays empty.</summary>
    private static readonly string[] Described = [FieldNames.Title, FieldNames.Artist, FieldNames.Copyright, FieldNames.Comment];

    /// <summary>What WM/SharedUserRating has for the ratings of 1 to 5 (attribute list of the Windows Media Format SDK).</summary>
    private static readonly uint[] SharedRatings = [1, 25, 50, 75, 99];

    /// <summary>Longest value outside of the metadata library, in bytes.</summary>
    private const int MaxShortValue = ushort.MaxValue - 1;

    /// <summary>Bytes of the type in front of an attribute that is carried.</summary>
    private const int TypeLength = 2;

    private enum ValueType
    {
        Text = 0,
        Bytes = 1,
        Flag = 2,
        UInt32 = 3,
        UInt64 = 4,
        UInt16 = 5,
    }

    /// <summary>The attribute under which a field is written.</summary>
    internal static string NameOf(string field) => KeyMap.Asf.KeyOf(field) ?? VorbisCommentNames.ToKey(field);

    internal static TagReading Read(AsfObjects objects)
    {
        var tags = new TagSet();
        var damage = new List<string>();
        foreach (var description in objects.All(AsfObjects.ContentDescription))
            ReadDescription(description.Span, tags);
        bool isWhole = true;
        foreach (var description in objects.All(AsfObjects.ExtendedContentDescription))
            isWhole &= ReadExtended(description.Span, tags);
        foreach (var library in objects.All(AsfObjects.MetadataLibrary))
            isWhole &= ReadLibrary(library.Span, tags);
        if (!isWhole)
            damage.Add("The tags are damaged; the rest was skipped.");
        return new TagReading(tags, damage);
    }

    /// <summary>
    /// The content description, the extended one and the metadata library for these tags; each null when it would be empty.
    /// </summary>
    /// <param name="soundAttributes">Whole attributes of the extended description to keep.</param>
    internal static (byte[]? Description, byte[]? Extended, byte[]? Library) Write(TagSet tags, IReadOnlyList<byte[]> soundAttributes)
    {
        var description = new MemoryStream();
        var extended = new List<byte[]>(soundAttributes);
        var library = new List<byte[]>();
        var first = Described.Select(name => tags[name] is [var value, ..] && IsShort(tags[name]) ? Utf16(value) : []).ToList();
        foreach (var text in (IEnumerable<byte[]>)[.. first, []])
            WriteUInt16(description, text.Length);
        foreach (var text in first)
            description.Write(text);
        var typed = TypedFor(tags);
        var said = typed.Select(FactOf).ToHashSet();
        foreach (var field in tags.Fields)
        {
            bool isShort = IsShort(field.Values);
            int at = Array.FindIndex(Described, name => name.Equals(field.Name, StringComparison.OrdinalIgnoreCase));
            foreach (var value in ValuesOf(field, tags).Skip(at >= 0 && isShort ? 1 : 0))
            {
                var name = NameOf(field.Name);
                if (said.Contains((field.Name.ToUpperInvariant(), value)))
                    continue;
                if (field.Name.Equals(FieldNames.Rating, StringComparison.OrdinalIgnoreCase) && Rating.IsPlain(value))
                    extended.Add(ShortAttribute(name, ValueType.UInt32, BitConverter.GetBytes(SharedRatings[value[0] - '1'])));
                else
                    (isShort ? extended : library).Add(
                        isShort ? ShortAttribute(name, ValueType.Text, Utf16(value)) : LongAttribute(name, ValueType.Text, Utf16(value)));
            }
        }

        foreach (var picture in tags.Pictures)
            library.Add(LongAttribute("WM/Picture", ValueType.Bytes, PictureValue(picture)));
        foreach (var field in typed)
        {
            var (type, value) = ((ValueType)BinaryPrimitives.ReadUInt16LittleEndian(field.Data.Span), field.Data[TypeLength..]);
            // A flag is a double word in the extended description, and a word in the library.
            if (type is ValueType.UInt32 or ValueType.UInt64 or ValueType.UInt16 || (type == ValueType.Flag && value.Length == 4))
                extended.Add(ShortAttribute(field.Id, type, value.ToArray()));
            else
                library.Add(LongAttribute(field.Id, type, value.Span));
        }

        return (first.Exists(text => text.Length > 0) ? description.ToArray() : null, Counted(extended), Counted(library));
    }

    /// <summary>The attributes that are no text, without numbers and flags whose field says something else by now.</summary>
    internal static List<OpaqueField> TypedFor(TagSet tags) =>
    [
        .. tags.Opaque.Where(attribute => attribute.Dialect == Dialect && attribute.Data.Length >= TypeLength)
            .Where(
                attribute => FactOf(attribute) is not { Value.Length: > 0 } fact
                    || (
                        tags.Fields.FirstOrDefault(field => field.Name.Equals(fact.Field, StringComparison.OrdinalIgnoreCase)) is { } held
                            && ValuesOf(held, tags).Contains(fact.Value))),
    ];

    /// <summary>What a number or a flag says: a field, in capitals, and its value; no value for any other attribute.</summary>
    private static (string Field, string Value) FactOf(OpaqueField attribute)
    {
        var text = TextOf((ValueType)BinaryPrimitives.ReadUInt16LittleEndian(attribute.Data.Span), attribute.Data.Span[TypeLength..]);
        var field = FieldOf(attribute.Id);
        return (field.ToUpperInvariant(), field == FieldNames.Rating ? RatingOf(text) : text);
    }

    /// <summary>The attributes of an extended description that are about the sound itself, whole.</summary>
    internal static List<byte[]> SoundAttributesOf(ReadOnlySpan<byte> extended)
    {
        var kept = new List<byte[]>();
        var cursor = new ByteCursor(extended);
        int count = cursor.UInt16LittleEndian();
        for (int i = 0; i < count; i++)
        {
            var start = cursor.Rest;
            var name = Text(cursor.Take(cursor.UInt16LittleEndian()));
            cursor.Skip(2);
            cursor.Skip(cursor.UInt16LittleEndian());
            if (cursor.IsPastEnd)
                break;
            if (SoundAttributes.Contains(name))
                kept.Add(start[..(start.Length - cursor.Left)].ToArray());
        }

        return kept;
    }

    /// <summary>The number of a disc has its total with it, "1/2" (common practice, no source).</summary>
    private static IEnumerable<string> ValuesOf(TagField field, TagSet tags)
    {
        bool isPair = tags[FieldNames.Disc] is [var number] && !number.Contains('/', StringComparison.Ordinal)
            && tags[FieldNames.DiscTotal] is [var total] && !total.Contains('/', StringComparison.Ordinal);
        if (isPair && field.Name.Equals(FieldNames.Disc, StringComparison.OrdinalIgnoreCase))
            return [$"{tags.First(FieldNames.Disc)}/{tags.First(FieldNames.DiscTotal)}"];
        return isPair && field.Name.Equals(FieldNames.DiscTotal, StringComparison.OrdinalIgnoreCase) ? [] : field.Values;
    }

    /// <summary>The rating that a number of WM/SharedUserRating means; any other text unchanged.</summary>
    internal static string RatingOf(string text) =>
        uint.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out uint number)
                && Array.IndexOf(SharedRatings, number) is >= 0 and var at
            ? Rating.ToText(at + 1)
            : text;

    private static bool IsShort(IEnumerable<string> values) =>
        values.All(value => Encoding.Unicode.GetByteCount(value) + 2 <= MaxShortValue);

    private static byte[]? Counted(List<byte[]> attributes)
    {
        if (attributes.Count == 0)
            return null;
        using var content = new MemoryStream();
        WriteUInt16(content, Math.Min(attributes.Count, ushort.MaxValue));
        foreach (var attribute in attributes.Take(ushort.MaxValue))
            content.Write(attribute);
        return content.ToArray();
    }

    private static byte[] ShortAttribute(string name, ValueType type, byte[] value)
    {
        using var attribute = new MemoryStream();
        var nameBytes = Utf16(name);
        WriteUInt16(attribute, nameBytes.Length);
        attribute.Write(nameBytes);
        WriteUInt16(attribute, (int)type);
        WriteUInt16(attribute, value.Length);
        attribute.Write(value);
        return attribute.ToArray();
    }

    private static byte[] LongAttribute(string name, ValueType type, ReadOnlySpan<byte> value)
    {
        using var attribute = new MemoryStream();
        var nameBytes = Utf16(name);
        // Language and stream: any.
        attribute.Write(new byte[4]);
        WriteUInt16(attribute, nameBytes.Length);
        WriteUInt16(attribute, (int)type);
        WriteUInt32(attribute, (uint)value.Length);
        attribute.Write(nameBytes);
        attribute.Write(value);
        return attribute.ToArray();
    }

    private static byte[] PictureValue(Picture picture)
    {
        using var value = new MemoryStream();
        value.WriteByte((byte)picture.Kind);
        WriteUInt32(value, (uint)picture.Data.Length);
        value.Write(Utf16(picture.MimeType));
        value.Write(Utf16(picture.Description));
        value.Write(picture.Data.Span);
        return value.ToArray();
    }

    private static byte[] Utf16(string text) => Encoding.Unicode.GetBytes(text + "\0");

    private static void WriteUInt16(MemoryStream stream, int value)
    {
        stream.WriteByte((byte)value);
        stream.WriteByte((byte)(value >> 8));
    }

    private static void WriteUInt32(MemoryStream stream, uint value)
    {
        WriteUInt16(stream, (int)(value & 0xFFFF));
        WriteUInt16(stream, (int)(value >> 16));
    }

    private static void ReadDescription(ReadOnlySpan<byte> content, TagSet into)
    {
        var cursor = new ByteCursor(content);
        int title = cursor.UInt16LittleEndian(), author = cursor.UInt16LittleEndian(), copyright = cursor.UInt16LittleEndian(),
            comment = cursor.UInt16LittleEndian();
        cursor.Skip(2);
        into.Add(FieldNames.Title, Text(cursor.Take(title)));
        into.Add(FieldNames.Artist, Text(cursor.Take(author)));
        into.Add(FieldNames.Copyright, Text(cursor.Take(copyright)));
        into.Add(FieldNames.Comment, Text(cursor.Take(comment)));
    }

    private static bool ReadExtended(ReadOnlySpan<byte> content, TagSet into)
    {
        var cursor = new ByteCursor(content);
        int count = cursor.UInt16LittleEndian();
        for (int i = 0; i < count && !cursor.IsPastEnd; i++)
        {
            var name = Text(cursor.Take(cursor.UInt16LittleEndian()));
            var type = (ValueType)cursor.UInt16LittleEndian();
            Add(name, type, cursor.Take(cursor.UInt16LittleEndian()), into);
        }

        return !cursor.IsPastEnd;
    }

    /// <summary>Holds values of more than 64 KB, mostly pictures.</summary>
    private static bool ReadLibrary(ReadOnlySpan<byte> content, TagSet into)
    {
        var cursor = new ByteCursor(content);
        int count = cursor.UInt16LittleEndian();
        for (int i = 0; i < count && !cursor.IsPastEnd; i++)
        {
            cursor.Skip(4);
            int nameLength = cursor.UInt16LittleEndian();
            var type = (ValueType)cursor.UInt16LittleEndian();
            uint length = cursor.UInt32LittleEndian();
            var name = Text(cursor.Take(nameLength));
            Add(name, type, cursor.Take(length), into);
        }

        return !cursor.IsPastEnd;
    }

    private static void Add(string name, ValueType type, ReadOnlySpan<byte> value, TagSet into)
    {
        if (name.Equals("WM/Picture", StringComparison.OrdinalIgnoreCase))
        {
            if (ReadPicture(value) is { } picture)
                into.Pictures.Add(picture);
            return;
        }

        if (SoundAttributes.Contains(name))
            return;
        var field = FieldOf(name);
        var text = type == ValueType.Text ? Text(value) : TextOf(type, value);
        if (field == FieldNames.Rating)
            text = RatingOf(text);
        into.AddNumbered(field, text);
        // A rating of 1 to 5 is written as a number anyway.
        bool isPlainRating = field == FieldNames.Rating && type == ValueType.UInt32 && Rating.IsPlain(text);
        if (type != ValueType.Text && !isPlainRating)
            into.Opaque.Add(new OpaqueField(Dialect, name, (byte[])[(byte)type, (byte)((int)type >> 8), .. value]));
    }

    private static string FieldOf(string attribute) => KeyMap.Asf.FieldOf(attribute) ?? VorbisCommentNames.ToName(attribute);

    /// <summary>A number or a flag that is set as text; empty for any other value.</summary>
    private static string TextOf(ValueType type, ReadOnlySpan<byte> value) => type switch
    {
        ValueType.Flag => value.IndexOfAnyExcept((byte)0) >= 0 ? "1" : "",
        ValueType.UInt32 when value.Length >= 4 => BinaryPrimitives.ReadUInt32LittleEndian(value).ToString(CultureInfo.InvariantCulture),
        ValueType.UInt64 when value.Length >= 8 => BinaryPrimitives.ReadUInt64LittleEndian(value).ToString(CultureInfo.InvariantCulture),
        ValueType.UInt16 when value.Length >= 2 => BinaryPrimitives.ReadUInt16LittleEndian(value).ToString(CultureInfo.InvariantCulture),
        _ => "",
    };

    /// <summary>Kind, length, MIME type and description in UTF-16 with a zero behind each, then the picture.</summary>
    private static Picture? ReadPicture(ReadOnlySpan<byte> value)
    {
        var cursor = new ByteCursor(value);
        int kind = cursor.Byte();
        uint length = cursor.UInt32LittleEndian();
        var mimeType = TextToZero(ref cursor);
        var description = TextToZero(ref cursor);
        var data = cursor.Take(length);
        return cursor.IsPastEnd || data.IsEmpty
            ? null
            : new Picture(
                kind <= (int)PictureKind.PublisherLogo ? (PictureKind)kind : PictureKind.Other, mimeType, description, data.ToArray());
    }

    private static string TextToZero(ref ByteCursor cursor)
    {
        var text = new StringBuilder();
        while (cursor.UInt16LittleEndian() is not 0 and var unit)
            text.Append((char)unit);
        return text.ToString();
    }

    private static string Text(ReadOnlySpan<byte> utf16) => Encoding.Unicode.GetString(utf16).TrimEnd('\0');
}
