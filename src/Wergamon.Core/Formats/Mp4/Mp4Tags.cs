using System.Buffers.Binary;
using System.Collections.Frozen;
using System.Globalization;
using System.Text;
using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Core.Tags.Mapping;
using Wergamon.Core.Tags.VorbisComment;

namespace Wergamon.Core.Formats.Mp4;

/// <summary>
/// The item list of files of the MP4 family (common practice, no source). A text item without a field of its own keeps its name; what is
/// no text is carried as bytes.
/// </summary>
public static class Mp4Tags
{
    public const string Dialect = "MP4";

    private const string FreeFormMeaning = "com.apple.iTunes";

    /// <summary>Free-form fields about the sound of this very file, not about the music.</summary>
    private static readonly FrozenSet<string> SoundItems = FrozenSet.Create(
        StringComparer.OrdinalIgnoreCase, "iTunSMPB", "iTunNORM", "Encoding Params", "cdec");

    private static readonly KeyMap Items = new(row => row.Mp4, StringComparer.Ordinal);

    /// <summary>Items with a layout of their own.</summary>
    private static readonly FrozenSet<string> NumberItems = FrozenSet.Create(
        StringComparer.Ordinal, "trkn", "disk", "tmpo", "cpil", "gnre");

    /// <summary>Text items without a field of their own that are written as items again; any other name is written free-form.</summary>
    private static readonly FrozenSet<string> OtherTextItems = FrozenSet.Create(
        StringComparer.Ordinal, "desc", "ldes", "sdes", "tvsh", "tven", "tvnn", "soco", "sosn", "catg", "keyw", "purd", "apID", "ownr",
        "©mvn", "©wrk", "©st3", "©pub", "©con", "©dir", "©arg");

    private enum DataType
    {
        Implicit = 0,
        Utf8 = 1,
        Utf16 = 2,
        Jpeg = 13,
        Png = 14,
        Integer = 21,
    }

    /// <summary>The item under which a field is written; four dashes stand for a free-form one.</summary>
    internal static string NameOf(string field) => Items.KeyOf(field) ?? "----:" + VorbisCommentNames.ToKey(field);

    internal static TagReading Read(Mp4Movie movie)
    {
        var tags = new TagSet();
        var items = ItemsOf(movie.Content);
        for (int i = 0; i < Limits.MaxParts && Mp4Movie.NextBox(ref items, out var type, out var content); i++)
            ReadItem(movie, Encoding.Latin1.GetString(type), content, tags);
        foreach (var chapter in Mp4Chapters.Read(Mp4Movie.Child(movie.Content, "udta"u8)))
            tags.Add(FieldNames.Chapters, chapter);
        return new TagReading(tags, items.IsEmpty ? [] : ["The list of tags is damaged; the rest was skipped."]);
    }

    /// <summary>The text of a free-form field; null when there is none.</summary>
    internal static string? FreeForm(ReadOnlySpan<byte> movie, string name)
    {
        var items = ItemsOf(movie);
        while (Mp4Movie.NextBox(ref items, out var type, out var content))
        {
            if (type.SequenceEqual("----"u8) && NameOf(content) == name && DataOf(ref content, out _) is { IsEmpty: false } data)
                return Encoding.UTF8.GetString(data);
        }

        return null;
    }

    /// <summary>The items about the sound itself, which stay when tags are rewritten.</summary>
    internal static IReadOnlyList<byte[]> SoundItemsOf(ReadOnlySpan<byte> movie)
    {
        var kept = new List<byte[]>();
        var items = ItemsOf(movie);
        while (Mp4Movie.NextBox(ref items, out var type, out var content))
        {
            if (!type.SequenceEqual("----"u8) || !SoundItems.Contains(NameOf(content)))
                continue;
            var item = new BoxWriter();
            using (item.Open(type))
                item.Bytes(content);
            kept.Add(item.ToArray());
        }

        return kept;
    }

    /// <summary>Says where the music starts and ends among the samples that a decoder gives (common practice, no source).</summary>
    internal static byte[] GaplessItem(long delay, long padding, long played)
    {
        var text = string.Create(
            CultureInfo.InvariantCulture,
            $" 00000000 {delay:X8} {padding:X8} {played:X16} 00000000 00000000 00000000 00000000 00000000 00000000 00000000 00000000");
        var item = new BoxWriter();
        WriteFreeForm(item, "iTunSMPB", [text]);
        return item.ToArray();
    }

    /// <summary>Writes the meta box of a user data box.</summary>
    /// <param name="soundItems">Whole items to append.</param>
    internal static void WriteMeta(BoxWriter boxes, TagSet tags, IReadOnlyList<byte[]> soundItems)
    {
        using (boxes.OpenFull("meta"u8))
        {
            using (boxes.OpenFull("hdlr"u8))
            {
                boxes.Zeros(4);
                boxes.Bytes("mdirappl"u8);
                boxes.Zeros(9);
            }

            using (boxes.Open("ilst"u8))
            {
                foreach (var field in tags.Fields)
                    WriteField(boxes, field, tags);
                if (tags.Pictures.Count > 0)
                {
                    using (boxes.Open("covr"u8))
                    {
                        foreach (var picture in tags.Pictures)
                            WriteData(boxes, picture.MimeType == "image/png" ? DataType.Png : DataType.Jpeg, picture.Data.Span);
                    }
                }

                foreach (var field in tags.Opaque.Where(field => field.Dialect == Dialect))
                {
                    using (boxes.Open(Encoding.Latin1.GetBytes(field.Id)))
                        boxes.Bytes(field.Data.Span);
                }

                foreach (var item in soundItems)
                    boxes.Bytes(item);
            }
        }
    }

    private static ReadOnlySpan<byte> ItemsOf(ReadOnlySpan<byte> movie)
    {
        var meta = Mp4Movie.Descendant(movie, "udtameta"u8);
        // In MOV files the box starts with its children, elsewhere with version and flags.
        if (meta.Length >= 8 && !meta.Slice(4, 4).SequenceEqual("hdlr"u8))
            meta = meta[4..];
        return Mp4Movie.Child(meta, "ilst"u8);
    }

    private static void ReadItem(Mp4Movie movie, string type, ReadOnlySpan<byte> content, TagSet into)
    {
        var name = type == "----" ? NameOf(content) : type;
        if (SoundItems.Contains(name))
            return;
        var values = content;
        bool isUnderstood = true, hasValue = false;
        while (DataOf(ref values, out var kind) is { IsEmpty: false } data)
        {
            hasValue = true;
            isUnderstood &= TryReadValue(movie, type, name, kind, data, into);
        }

        if (hasValue && !isUnderstood)
            into.Opaque.Add(new OpaqueField(Dialect, type, content.ToArray()));
    }

    private static bool TryReadValue(Mp4Movie movie, string type, string name, DataType kind, ReadOnlySpan<byte> data, TagSet into)
    {
        switch (type)
        {
            case "trkn" or "disk" when data.Length >= 6:
                AddNumber(into, type == "trkn" ? FieldNames.Track : FieldNames.Disc, BinaryPrimitives.ReadUInt16BigEndian(data[2..]));
                AddNumber(
                    into, type == "trkn" ? FieldNames.TrackTotal : FieldNames.DiscTotal, BinaryPrimitives.ReadUInt16BigEndian(data[4..]));
                return true;
            case "gnre" when data.Length >= 2 && Id3v1Genres.ByNumber(BinaryPrimitives.ReadUInt16BigEndian(data) - 1) is { } genre:
                into.Add(FieldNames.Genre, genre);
                return true;
            case "tmpo" when data.Length is 1 or 2 or 4:
                AddNumber(
                    into, FieldNames.Tempo,
                    data.Length switch
                    {
                        1 => data[0],
                        2 => BinaryPrimitives.ReadUInt16BigEndian(data),
                        _ => BinaryPrimitives.ReadInt32BigEndian(data)
                    });
                return true;
            case "cpil":
                into.Add(FieldNames.Compilation, data[^1] != 0 ? "1" : "");
                return true;
            case "covr":
                var mimeType = PictureSize.MimeTypeOf(data) ?? (kind == DataType.Png ? "image/png" : "image/jpeg");
                into.Pictures.Add(
                    new Picture(into.Pictures.Count == 0 ? PictureKind.Front : PictureKind.Other, mimeType, "", movie.Keep(data)));
                return true;
            case "----" when kind is DataType.Utf8 or DataType.Utf16 && name.Length > 0:
                into.Add(VorbisCommentNames.ToName(name), Text(data, kind));
                return true;
            case var _ when TextItemField(type) is { } field && kind is DataType.Utf8 or DataType.Utf16 or DataType.Implicit:
                into.Add(field, field == FieldNames.Rating ? Rating.FromPercent(Text(data, kind)) : Text(data, kind));
                return true;
            case var _ when kind is DataType.Utf8 or DataType.Utf16:
                into.Add(name, Text(data, kind));
                return true;
            default:
                return false;
        }
    }

    private static string? TextItemField(string type) => NumberItems.Contains(type) ? null : Items.FieldOf(type);

    private static void AddNumber(TagSet into, string name, int number)
    {
        if (number > 0)
            into.Add(name, number.ToString(CultureInfo.InvariantCulture));
    }

    /// <summary>The name of a free-form item; that of another program has its domain and a colon in front.</summary>
    private static string NameOf(ReadOnlySpan<byte> content)
    {
        var name = Mp4Movie.Child(content, "name"u8) is { Length: > 4 } text ? Encoding.UTF8.GetString(text[4..]) : "";
        var meaning = Mp4Movie.Child(content, "mean"u8) is { Length: > 4 } domain ? Encoding.UTF8.GetString(domain[4..]) : FreeFormMeaning;
        return name.Length == 0 || meaning == FreeFormMeaning || !meaning.Contains('.', StringComparison.Ordinal)
            ? name
            : $"{meaning}:{name}";
    }

    private static (string Meaning, string Name) MeaningOf(string name) =>
        name.Split(':', 2) is [var meaning, { Length: > 0 } rest] && meaning.Contains('.', StringComparison.Ordinal)
            ? (meaning, rest)
            : (FreeFormMeaning, name);

    /// <summary>Takes the next value off an item; empty at its end.</summary>
    private static ReadOnlySpan<byte> DataOf(scoped ref ReadOnlySpan<byte> content, out DataType kind)
    {
        kind = DataType.Implicit;
        while (Mp4Movie.NextBox(ref content, out var type, out var data))
        {
            if (!type.SequenceEqual("data"u8) || data.Length <= 8)
                continue;
            kind = (DataType)(BinaryPrimitives.ReadUInt32BigEndian(data) & 0xFF_FFFF);
            return data[8..];
        }

        return default;
    }

    /// <summary>UTF-8, or Latin-1 that some programs wrote in its place.</summary>
    private static string Text(ReadOnlySpan<byte> data, DataType kind) =>
        (kind == DataType.Utf16
                ? Encoding.BigEndianUnicode.GetString(data)
                : LenientText.ReadAll(data)).Replace("\0", "", StringComparison.Ordinal);

    private static void WriteField(BoxWriter boxes, TagField field, TagSet tags)
    {
        switch (field.Name.ToLowerInvariant())
        {
            case FieldNames.Track:
                WriteNumbers(boxes, "trkn"u8, field, tags[FieldNames.TrackTotal], 8);
                break;
            case FieldNames.Disc:
                WriteNumbers(boxes, "disk"u8, field, tags[FieldNames.DiscTotal], 6);
                break;
            case FieldNames.TrackTotal:
                WriteTotal(boxes, "trkn"u8, field, tags[FieldNames.Track], 8);
                break;
            case FieldNames.DiscTotal:
                WriteTotal(boxes, "disk"u8, field, tags[FieldNames.Disc], 6);
                break;
            case FieldNames.Tempo when PlainNumber(field.Values[0]) is { } tempo:
                using (boxes.Open("tmpo"u8))
                    WriteData(boxes, DataType.Integer, [(byte)(tempo >> 8), (byte)tempo]);
                WriteFreeForm(boxes, VorbisCommentNames.ToKey(field.Name), field.Values.Skip(1));
                break;
            case FieldNames.Compilation when field.Values is ["1"]:
                using (boxes.Open("cpil"u8))
                    WriteData(boxes, DataType.Integer, [1]);
                break;
            case FieldNames.Chapters when Mp4Chapters.CanHold(field.Values):
                break;
            case FieldNames.Chapters:
                WriteFreeForm(boxes, FieldNames.Chapters.ToUpperInvariant(), field.Values);
                break;
            case FieldNames.Rating:
                WriteTexts(boxes, Items.KeyOf(field.Name)!, field.Values.Select(Rating.ToPercent));
                break;
            case var name when Items.KeyOf(name) is { } item && !NumberItems.Contains(item):
                WriteTexts(boxes, item, field.Values);
                break;
            case var _ when OtherTextItems.Contains(field.Name):
                WriteTexts(boxes, field.Name, field.Values);
                break;
            default:
                WriteFreeForm(boxes, VorbisCommentNames.ToKey(field.Name), field.Values);
                break;
        }
    }

    /// <summary>The first number and its total share an item; further ones, and what is no number, are written free-form.</summary>
    private static void WriteNumbers(BoxWriter boxes, ReadOnlySpan<byte> type, TagField field, IReadOnlyList<string> totals, int length)
    {
        if (PlainNumber(field.Values[0]) is not { } number)
        {
            WriteFreeForm(boxes, VorbisCommentNames.ToKey(field.Name), field.Values);
            return;
        }

        WritePair(boxes, type, number, totals is [var first, ..] ? PlainNumber(first) ?? 0 : 0, length);
        WriteFreeForm(boxes, VorbisCommentNames.ToKey(field.Name), field.Values.Skip(1));
    }

    private static void WriteTotal(BoxWriter boxes, ReadOnlySpan<byte> type, TagField field, IReadOnlyList<string> numbers, int length)
    {
        int? total = PlainNumber(field.Values[0]);
        bool isWithNumber = numbers is [var first, ..] && PlainNumber(first) is not null;
        if (total is { } alone && !isWithNumber)
            WritePair(boxes, type, 0, alone, length);
        WriteFreeForm(boxes, VorbisCommentNames.ToKey(field.Name), field.Values.Skip(total is null ? 0 : 1));
    }

    private static void WritePair(BoxWriter boxes, ReadOnlySpan<byte> type, int number, int total, int length)
    {
        var data = new byte[length];
        BinaryPrimitives.WriteUInt16BigEndian(data.AsSpan(2), (ushort)number);
        BinaryPrimitives.WriteUInt16BigEndian(data.AsSpan(4), (ushort)total);
        using (boxes.Open(type))
            WriteData(boxes, DataType.Implicit, data);
    }

    private static void WriteTexts(BoxWriter boxes, string type, IEnumerable<string> values)
    {
        using (boxes.Open(Encoding.Latin1.GetBytes(type)))
        {
            foreach (var value in values)
                WriteData(boxes, DataType.Utf8, Encoding.UTF8.GetBytes(value));
        }
    }

    private static void WriteFreeForm(BoxWriter boxes, string name, IEnumerable<string> values)
    {
        var all = values.ToList();
        if (all.Count == 0)
            return;
        using (boxes.Open("----"u8))
        {
            var (meaning, bareName) = MeaningOf(name);
            using (boxes.OpenFull("mean"u8))
                boxes.Bytes(Encoding.UTF8.GetBytes(meaning));
            using (boxes.OpenFull("name"u8))
                boxes.Bytes(Encoding.UTF8.GetBytes(bareName));
            foreach (var value in all)
                WriteData(boxes, DataType.Utf8, Encoding.UTF8.GetBytes(value));
        }
    }

    private static void WriteData(BoxWriter boxes, DataType type, ReadOnlySpan<byte> data)
    {
        using (boxes.OpenFull("data"u8, flags: (uint)type))
        {
            boxes.Zeros(4);
            boxes.Bytes(data);
        }
    }

    /// <summary>A number that the item of 16 bits gives back as it was written; null for any other text.</summary>
    internal static int? PlainNumber(string text) =>
        ushort.TryParse(text, NumberStyles.None, CultureInfo.InvariantCulture, out ushort number) && number > 0
                && number.ToString(CultureInfo.InvariantCulture) == text
            ? number
            : null;
}
