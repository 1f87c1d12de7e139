using System.Buffers.Binary;
using System.Globalization;
using System.Text;
using System.Text.RegularExpressions;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Tags.Id3v2;

/// <summary>How a tag is written.</summary>
/// <param name="Version">3 or 4. Version 2.3 is read by the most players.</param>
/// <param name="Encoding">Null chooses the smallest that holds each text: Latin-1, else UTF-16 (2.3) or UTF-8 (2.4).</param>
/// <param name="Padding">Zero bytes at the end, so that later edits need not move the audio.</param>
public sealed record Id3v2WriteOptions(int Version = 3, Id3v2Encoding? Encoding = null, bool Unsynchronise = false, int Padding = 2048);

/// <summary>Writes ID3v2.3 and 2.4 tags (id3.org: ID3v2.3.0; ID3v2.4.0 - Main Structure and Native Frames).</summary>
public static partial class Id3v2Writer
{
    /// <summary>Names of TXXX frames that keep dates which version 2.3 has no frame for, such as "2021-06".</summary>
    internal const string ExactYearName = "DATE";
    internal const string ExactOriginalYearName = "ORIGINALDATE";

    private const string Language = "eng";

    public static byte[] Write(TagSet tags, Id3v2WriteOptions? options = null)
    {
        options ??= new Id3v2WriteOptions();
        using var frames = new MemoryStream();
        var writer = new FrameWriter(frames, options);
        foreach (var field in tags.Fields)
            WriteField(writer, field, tags);
        foreach (var picture in tags.Pictures)
            writer.Picture(picture);
        // Frames of version 2.2 without a successor have three letters. They come last, since some readers stop at them.
        foreach (var field in tags.Opaque.Where(field => field.Dialect == Id3v2FrameParser.Dialect).OrderBy(field => field.Id.Length == 4 ? 0 : 1))
            writer.Frame(field.Id.PadRight(4), field.Data.Span);

        byte[] body = frames.ToArray();
        if (options is { Unsynchronise: true, Version: 3 })
            body = Unsynchronisation.Apply(body);
        long length = body.Length + (long)options.Padding;
        if (length > Syncsafe.Most)
            throw new IOException("The tags are longer than an ID3v2 tag can be (256 MB).");
        var tag = new byte[Id3v2Reader.HeaderLength + length];
        "ID3"u8.CopyTo(tag);
        tag[3] = (byte)options.Version;
        tag[5] = options.Unsynchronise ? (byte)0x80 : (byte)0;
        Syncsafe.Write(tag.AsSpan(6), (int)length);
        body.CopyTo(tag, Id3v2Reader.HeaderLength);
        return tag;
    }

    /// <summary>A tag for a place in a file: as long as the old one where it fits, with the usual padding otherwise.</summary>
    /// <param name="room">Bytes that the old tag takes; 0 without one.</param>
    internal static byte[] WriteInto(TagSet tags, int version, long room)
    {
        var options = new Id3v2WriteOptions(version);
        var bare = Write(tags, options with { Padding = 0 });
        long padding = room - bare.Length;
        var tag = new byte[bare.Length + (padding is >= 0 and <= TagEdit.MaxPadding ? padding : options.Padding)];
        bare.CopyTo(tag, 0);
        Syncsafe.Write(tag.AsSpan(6), tag.Length - Id3v2Reader.HeaderLength);
        return tag;
    }

    private static void WriteField(FrameWriter writer, TagField field, TagSet tags)
    {
        switch (field.Name.ToLowerInvariant())
        {
            case FieldNames.Track:
                writer.Number("TRCK", field.Values, tags.First(FieldNames.TrackTotal));
                break;
            case FieldNames.Disc:
                writer.Number("TPOS", field.Values, tags.First(FieldNames.DiscTotal));
                break;
            case FieldNames.TrackTotal:
                writer.TotalAlone("TRCK", field.Values, tags[FieldNames.Track].Count > 0, FieldNames.TrackTotal);
                break;
            case FieldNames.DiscTotal:
                writer.TotalAlone("TPOS", field.Values, tags[FieldNames.Disc].Count > 0, FieldNames.DiscTotal);
                break;
            case FieldNames.Year:
                writer.Date("TDRC", "TYER", field.Values, ExactYearName);
                break;
            case FieldNames.OriginalYear:
                writer.Date("TDOR", "TORY", field.Values, ExactOriginalYearName);
                break;
            case FieldNames.Comment:
                writer.WithLanguage("COMM", "", field.Values);
                break;
            case FieldNames.Lyrics:
                writer.WithLanguage("USLT", "", field.Values.Take(1));
                writer.Named(FieldNames.Lyrics, [.. field.Values.Skip(1)]);
                break;
            case FieldNames.Website:
                writer.Links(field.Values);
                break;
            case var name when name.StartsWith(FieldNames.Comment + ":", StringComparison.Ordinal):
                writer.WithLanguage("COMM", field.Name[(FieldNames.Comment.Length + 1)..], field.Values);
                break;
            case var name when Id3v2Frames.FrameOf(name) is { } frame:
                writer.Text(frame, name == FieldNames.Genre ? field.Values.Select(Id3v1Genres.Escape) : field.Values);
                break;
            default:
                writer.Named(field.Name, field.Values);
                break;
        }
    }

    [GeneratedRegex("^(?<year>[0-9]{4})(-(?<month>[0-9]{2})-(?<day>[0-9]{2}))?$")]
    private static partial Regex PlainDate();

    /// <summary>Lays out single frames.</summary>
    private sealed class FrameWriter(MemoryStream stream, Id3v2WriteOptions options)
    {
        public void Text(string id, IEnumerable<string> values)
        {
            var all = values.ToList();
            var encoding = EncodingFor(all);
            using var content = new MemoryStream();
            content.WriteByte((byte)encoding);
            for (int i = 0; i < all.Count; i++)
                Id3v2Text.Write(content, all[i], encoding, ended: i + 1 < all.Count);
            Frame(id, content.ToArray());
        }

        public void Number(string id, IReadOnlyList<string> values, string? total) =>
            Text(id, total is null ? values : [$"{values[0]}/{total}", .. values.Skip(1)]);

        /// <summary>A total goes with its number; it needs a frame of its own only without one, or with several.</summary>
        public void TotalAlone(string id, IReadOnlyList<string> values, bool hasNumber, string name)
        {
            if (!hasNumber)
                Text(id, [$"/{values[0]}"]);
            Named(name, [.. values.Skip(1)]);
        }

        public void Date(string id, string oldId, IReadOnlyList<string> values, string exactName)
        {
            if (options.Version == 4)
            {
                Text(id, values);
                return;
            }

            var plain = PlainDate().Match(values[0]);
            bool hasDay = plain.Groups["day"].Success;
            bool exact = plain.Success && values.Count == 1 && (!hasDay || oldId == "TYER");
            if (!exact)
                Named(exactName, values);
            if (values[0].Length >= 4 && values[0][..4].All(char.IsAsciiDigit))
                Text(oldId, [values[0][..4]]);
            if (exact && hasDay)
                Text("TDAT", [plain.Groups["day"].Value + plain.Groups["month"].Value]);
        }

        public void Named(string name, IReadOnlyList<string> values)
        {
            if (values.Count > 0)
                Text("TXXX", [name, .. values]);
        }

        public void WithLanguage(string id, string description, IEnumerable<string> values)
        {
            string[] all = [description, .. values];
            var encoding = EncodingFor(all);
            using var content = new MemoryStream();
            content.WriteByte((byte)encoding);
            content.Write(Encoding.Latin1.GetBytes(Language));
            for (int i = 0; i < all.Length; i++)
                Id3v2Text.Write(content, all[i], encoding, ended: i + 1 < all.Length);
            Frame(id, content.ToArray());
        }

        /// <summary>A link is Latin-1; one that does not fit, and any after the first, go into a TXXX frame.</summary>
        public void Links(IReadOnlyList<string> values)
        {
            bool firstFits = FitsLatin1(values[0]);
            if (firstFits)
                Frame("WXXX", [(byte)Id3v2Encoding.Latin1, 0, .. Encoding.Latin1.GetBytes(values[0])]);
            Named(FieldNames.Website, firstFits ? [.. values.Skip(1)] : values);
        }

        public void Picture(Picture picture)
        {
            var encoding = EncodingFor([picture.Description]);
            using var content = new MemoryStream(picture.Data.Length + 64);
            content.WriteByte((byte)encoding);
            Id3v2Text.Write(content, picture.MimeType, Id3v2Encoding.Latin1, ended: true);
            content.WriteByte((byte)picture.Kind);
            Id3v2Text.Write(content, picture.Description, encoding, ended: true);
            content.Write(picture.Data.Span);
            Frame("APIC", content.ToArray());
        }

        public void Frame(string id, ReadOnlySpan<byte> content)
        {
            bool unsynchronised = options is { Unsynchronise: true, Version: 4 };
            int plainLength = content.Length;
            if (unsynchronised)
                content = Unsynchronisation.Apply(content);

            Span<byte> header = stackalloc byte[Id3v2Reader.HeaderLength];
            header.Clear();
            Encoding.Latin1.GetBytes(id, header);
            int length = content.Length + (unsynchronised ? 4 : 0);
            if (options.Version == 4)
                Syncsafe.Write(header[4..], length);
            else
                BinaryPrimitives.WriteInt32BigEndian(header[4..], length);
            header[9] = unsynchronised ? (byte)0x03 : (byte)0;
            stream.Write(header);
            if (unsynchronised)
            {
                Span<byte> stated = stackalloc byte[4];
                Syncsafe.Write(stated, plainLength);
                stream.Write(stated);
            }

            stream.Write(content);
        }

        private Id3v2Encoding EncodingFor(IEnumerable<string> texts)
        {
            if (options.Encoding is { } wanted)
                return wanted;
            if (texts.All(FitsLatin1))
                return Id3v2Encoding.Latin1;
            return options.Version == 4 ? Id3v2Encoding.Utf8 : Id3v2Encoding.Utf16WithMark;
        }

        private static bool FitsLatin1(string text) => text.All(c => c is >= ' ' and <= '~' or '\n' or '\r' or '\t' or (>= '\u00A0' and <= '\u00FF'));
    }
}
