using System.Buffers.Binary;
using System.Collections.Frozen;
using System.Globalization;
using System.Text;
using Wergamon.Core.Audio;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;
using Wergamon.Core.Tags.VorbisComment;

namespace Wergamon.Core.Formats.Mp4;

/// <summary>The item list of files of the MP4 family (common practice, no source). Read only.</summary>
public static class Mp4Tags
{
    private const int MaxItems = 10_000;

    /// <summary>The copyright sign in the first byte of most names is Latin-1.</summary>
    private static readonly FrozenDictionary<string, string> Names = new Dictionary<string, string>
    {
        ["©nam"] = FieldNames.Title,
        ["©ART"] = FieldNames.Artist,
        ["aART"] = FieldNames.AlbumArtist,
        ["©alb"] = FieldNames.Album,
        ["©day"] = FieldNames.Year,
        ["©gen"] = FieldNames.Genre,
        ["©wrt"] = FieldNames.Composer,
        ["©cmt"] = FieldNames.Comment,
        ["©lyr"] = FieldNames.Lyrics,
        ["©grp"] = FieldNames.Grouping,
        ["©too"] = FieldNames.EncodedBy,
        ["cprt"] = FieldNames.Copyright,
        ["sonm"] = FieldNames.TitleSort,
        ["soar"] = FieldNames.ArtistSort,
        ["soal"] = FieldNames.AlbumSort,
        ["soaa"] = FieldNames.AlbumArtistSort,
    }.ToFrozenDictionary();

    private enum DataType
    {
        Implicit = 0,
        Utf8 = 1,
        Jpeg = 13,
        Png = 14,
        Integer = 21,
    }

    internal static TagReading Read(Mp4Movie movie)
    {
        var tags = new TagSet();
        var items = ItemsOf(movie.Content);
        for (int i = 0; i < MaxItems && Mp4Movie.NextBox(ref items, out var type, out var content); i++)
            ReadItem(Encoding.Latin1.GetString(type), content, tags);
        return new TagReading(tags, items.IsEmpty ? [] : ["The list of tags is damaged; what follows the damage was left out."]);
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

    private static ReadOnlySpan<byte> ItemsOf(ReadOnlySpan<byte> movie)
    {
        var meta = Mp4Movie.Descendant(movie, "udtameta"u8);
        // In MOV files the box starts with its children, elsewhere with version and flags.
        if (meta.Length >= 8 && !meta.Slice(4, 4).SequenceEqual("hdlr"u8))
            meta = meta[4..];
        return Mp4Movie.Child(meta, "ilst"u8);
    }

    private static void ReadItem(string type, ReadOnlySpan<byte> content, TagSet into)
    {
        if (type == "----")
        {
            var name = NameOf(content);
            while (DataOf(ref content, out var kind) is { IsEmpty: false } data)
            {
                if (kind == DataType.Utf8 && name.Length > 0)
                    into.Add(VorbisCommentNames.ToName(name), Text(data));
            }

            return;
        }

        while (DataOf(ref content, out var kind) is { IsEmpty: false } data)
            ReadValue(type, kind, data, into);
    }

    private static void ReadValue(string type, DataType kind, ReadOnlySpan<byte> data, TagSet into)
    {
        switch (type)
        {
            case "trkn" or "disk" when data.Length >= 6:
                AddNumber(into, type == "trkn" ? FieldNames.Track : FieldNames.Disc, BinaryPrimitives.ReadUInt16BigEndian(data[2..]));
                AddNumber(into, type == "trkn" ? FieldNames.TrackTotal : FieldNames.DiscTotal, BinaryPrimitives.ReadUInt16BigEndian(data[4..]));
                break;
            case "gnre" when data.Length >= 2 && Id3v1Genres.ByNumber(BinaryPrimitives.ReadUInt16BigEndian(data) - 1) is { } genre:
                into.Add(FieldNames.Genre, genre);
                break;
            case "tmpo" when data.Length is 1 or 2 or 4:
                AddNumber(into, FieldNames.Tempo, data.Length switch { 1 => data[0], 2 => BinaryPrimitives.ReadUInt16BigEndian(data), _ => BinaryPrimitives.ReadInt32BigEndian(data) });
                break;
            case "cpil" when data[^1] != 0:
                into.Add(FieldNames.Compilation, "1");
                break;
            case "covr":
                var mimeType = PictureSize.MimeTypeOf(data) ?? (kind == DataType.Png ? "image/png" : "image/jpeg");
                into.Pictures.Add(new Picture(into.Pictures.Count == 0 ? PictureKind.Front : PictureKind.Other, mimeType, "", data.ToArray()));
                break;
            case var _ when kind is DataType.Utf8 or DataType.Implicit && Names.TryGetValue(type, out var name):
                into.Add(name, Text(data));
                break;
        }
    }

    private static void AddNumber(TagSet into, string name, int number)
    {
        if (number > 0)
            into.Add(name, number.ToString(CultureInfo.InvariantCulture));
    }

    private static string NameOf(ReadOnlySpan<byte> content) =>
        Mp4Movie.Child(content, "name"u8) is { Length: > 4 } name ? Encoding.UTF8.GetString(name[4..]) : "";

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

    private static string Text(ReadOnlySpan<byte> data) => Encoding.UTF8.GetString(data).Replace("\0", "", StringComparison.Ordinal);
}
