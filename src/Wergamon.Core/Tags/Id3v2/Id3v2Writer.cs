namespace Wergamon.Core.Tags.Id3v2;

/// <summary>How a tag is written.</summary>
/// <param name="Version">3 or 4. Version 2.3 is read by the most players.</param>
/// <param name="Encoding">Null chooses the smallest that holds each text: Latin-1, else UTF-16 (2.3) or UTF-8 (2.4).</param>
/// <param name="Padding">Zero bytes at the end, so that later edits need not move the audio.</param>
public sealed record Id3v2WriteOptions(int Version = 3, Id3v2Encoding? Encoding = null, bool Unsynchronise = false, int Padding = 2048)
{
    /// <summary>For a new tag; null for the usual options.</summary>
    internal static Id3v2WriteOptions For(TagWriteOptions? options) => new(options?.Id3v2Version ?? 3);
}

/// <summary>Writes ID3v2.3 and 2.4 tags (id3.org: ID3v2.3.0; ID3v2.4.0 - Main Structure and Native Frames).</summary>
public static class Id3v2Writer
{
    /// <summary>Names of TXXX frames that keep dates which version 2.3 has no frame for, such as "2021-06".</summary>
    internal const string ExactYearName = "DATE";
    internal const string ExactOriginalYearName = "ORIGINALDATE";

    public static byte[] Write(TagSet tags, Id3v2WriteOptions? options = null)
    {
        options ??= new Id3v2WriteOptions();
        return Assemble(WriteFrames(tags, options), options, options.Padding);
    }

    /// <summary>Bytes that <see cref="Write"/> gives.</summary>
    internal static long LengthOf(TagSet tags)
    {
        var options = new Id3v2WriteOptions();
        return Id3v2Reader.HeaderLength + WriteFrames(tags, options).Length + options.Padding;
    }

    /// <summary>A tag for a place in a file: as long as the old one where it fits, with the usual padding otherwise.</summary>
    /// <param name="room">Bytes that the old tag takes; 0 without one.</param>
    internal static byte[] WriteInto(TagSet tags, int version, long room)
    {
        var options = new Id3v2WriteOptions(version);
        var body = WriteFrames(tags, options);
        long padding = room - body.Length - Id3v2Reader.HeaderLength;
        return Assemble(body, options, padding is >= 0 and <= TagEdit.MaxPadding ? padding : options.Padding);
    }

    private static ReadOnlySpan<byte> WriteFrames(TagSet tags, Id3v2WriteOptions options)
    {
        const int RoomForText = 1024;
        var frames = new MemoryStream(RoomForText + tags.Pictures.Sum(picture => picture.Data.Length + 256));
        var writer = new Id3v2FrameWriter(frames, options);
        var kept = MappedFrames.FramesFor(tags);
        foreach (var field in tags.Fields)
            WriteField(writer, field, tags, kept, options);
        foreach (var picture in tags.Pictures)
            writer.Picture(picture);
        // Frames of version 2.2 without a successor have three letters. They come last, since some readers stop at them.
        foreach (var field in kept.Where(field => field.Dialect == Id3v2FrameParser.Dialect && !MappedFrames.IsWrittenWithField(field))
            .OrderBy(field => field.Id.Length == 4 ? 0 : 1))
            writer.Frame(field.Id.PadRight(4), field.Data.Span);
        var body = frames.GetBuffer().AsSpan(0, (int)frames.Length);
        return options is { Unsynchronise: true, Version: 3 } ? Unsynchronisation.Apply(body) : body;
    }

    private static byte[] Assemble(ReadOnlySpan<byte> body, Id3v2WriteOptions options, long padding)
    {
        long length = body.Length + padding;
        if (length > Syncsafe.Most)
            throw new IOException("The tags are longer than an ID3v2 tag can be (256 MB).");
        var tag = GC.AllocateUninitializedArray<byte>((int)(Id3v2Reader.HeaderLength + length));
        "ID3"u8.CopyTo(tag);
        (tag[3], tag[4], tag[5]) = ((byte)options.Version, 0, options.Unsynchronise ? (byte)0x80 : (byte)0);
        Syncsafe.Write(tag.AsSpan(6), (int)length);
        body.CopyTo(tag.AsSpan(Id3v2Reader.HeaderLength));
        tag.AsSpan(Id3v2Reader.HeaderLength + body.Length).Clear();
        return tag;
    }

    private static void WriteField(
        Id3v2FrameWriter writer, TagField field, TagSet tags, IReadOnlyList<OpaqueField> kept, Id3v2WriteOptions options)
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
            case FieldNames.Rating or FieldNames.TimedLyrics or FieldNames.Chapters:
                MappedFrames.Write(writer, field, tags, kept, options);
                break;
            case FieldNames.Website:
                writer.Links(field.Values);
                break;
            case var name when name.StartsWith(FieldNames.Comment + ":", StringComparison.Ordinal):
                writer.WithLanguage("COMM", field.Name[(FieldNames.Comment.Length + 1)..], field.Values);
                break;
            case var name when Id3v2Frames.FrameOf(name, options.Version) is { } frame:
                writer.Text(frame, name == FieldNames.Genre ? field.Values.Select(Id3v1Genres.Escape) : field.Values);
                break;
            default:
                writer.Named(field.Name, field.Values);
                break;
        }
    }
}
