using System.Buffers.Binary;
using System.Collections.Frozen;
using System.Globalization;
using System.Text;
using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Asf;

/// <summary>The descriptions in the header of ASF files (Advanced Systems Format specification, 3.10, 3.11 and 4.8). Read only.</summary>
public static class AsfTags
{
    private static readonly FrozenDictionary<string, string> Names = new Dictionary<string, string>
    {
        ["WM/AlbumTitle"] = FieldNames.Album,
        ["WM/AlbumArtist"] = FieldNames.AlbumArtist,
        ["WM/Year"] = FieldNames.Year,
        ["WM/OriginalReleaseYear"] = FieldNames.OriginalYear,
        ["WM/Genre"] = FieldNames.Genre,
        ["WM/Composer"] = FieldNames.Composer,
        ["WM/Writer"] = FieldNames.Lyricist,
        ["WM/Conductor"] = FieldNames.Conductor,
        ["WM/ModifiedBy"] = FieldNames.Remixer,
        ["WM/Lyrics"] = FieldNames.Lyrics,
        ["WM/BeatsPerMinute"] = FieldNames.Tempo,
        ["WM/InitialKey"] = FieldNames.Key,
        ["WM/IsCompilation"] = FieldNames.Compilation,
        ["WM/ISRC"] = FieldNames.Isrc,
        ["WM/Publisher"] = FieldNames.Publisher,
        ["WM/ContentGroupDescription"] = FieldNames.Grouping,
        ["WM/SubTitle"] = FieldNames.Subtitle,
        ["WM/Mood"] = FieldNames.Mood,
        ["WM/Language"] = FieldNames.Language,
        ["WM/EncodedBy"] = FieldNames.EncodedBy,
        ["WM/TitleSortOrder"] = FieldNames.TitleSort,
        ["WM/ArtistSortOrder"] = FieldNames.ArtistSort,
        ["WM/AlbumSortOrder"] = FieldNames.AlbumSort,
        ["WM/TrackNumber"] = FieldNames.Track,
        ["WM/PartOfSet"] = FieldNames.Disc,
    }.ToFrozenDictionary(StringComparer.OrdinalIgnoreCase);

    private enum ValueType
    {
        Text = 0,
        Bytes = 1,
        Flag = 2,
        UInt32 = 3,
        UInt64 = 4,
        UInt16 = 5,
    }

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
            damage.Add("The tags are damaged; what follows the damage was left out.");
        return new TagReading(tags, damage);
    }

    private static void ReadDescription(ReadOnlySpan<byte> content, TagSet into)
    {
        var cursor = new ByteCursor(content);
        int title = cursor.UInt16LittleEndian(), author = cursor.UInt16LittleEndian(), copyright = cursor.UInt16LittleEndian(), comment = cursor.UInt16LittleEndian();
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

        var text = type switch
        {
            ValueType.Text => Text(value),
            ValueType.Flag => value.IndexOfAnyExcept((byte)0) >= 0 ? "1" : "",
            ValueType.UInt32 when value.Length >= 4 => BinaryPrimitives.ReadUInt32LittleEndian(value).ToString(CultureInfo.InvariantCulture),
            ValueType.UInt64 when value.Length >= 8 => BinaryPrimitives.ReadUInt64LittleEndian(value).ToString(CultureInfo.InvariantCulture),
            ValueType.UInt16 when value.Length >= 2 => BinaryPrimitives.ReadUInt16LittleEndian(value).ToString(CultureInfo.InvariantCulture),
            _ => "",
        };
        into.AddNumbered(Names.GetValueOrDefault(name, name), text);
    }

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
            : new Picture(kind <= (int)PictureKind.PublisherLogo ? (PictureKind)kind : PictureKind.Other, mimeType, description, data.ToArray());
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
