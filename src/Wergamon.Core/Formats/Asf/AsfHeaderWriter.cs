using System.Buffers.Binary;
using Wergamon.Core.Audio;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Asf;

/// <summary>Rebuilds a header with other tags (Advanced Systems Format specification, section 3).</summary>
internal static class AsfHeaderWriter
{
    /// <summary>Room left for later edits, in bytes.</summary>
    public const int UsualPadding = 2048;

    private const int FixedLength = AsfObjects.ObjectHeadLength + 6;
    private const int FileSizeOffset = 16;
    private const int PlayDurationOffset = 40;
    private const int PrerollOffset = 56;

    /// <summary>Bytes that the tags take in a header.</summary>
    public static int LengthOf(TagSet tags)
    {
        var (description, extended, library) = AsfTags.Write(tags, []);
        return new[] { description, extended, library }.Sum(content => content is null ? 0 : AsfObjects.ObjectHeadLength + content.Length);
    }

    /// <summary>The header with other tags: as long as before where they fit, with the usual padding otherwise.</summary>
    /// <param name="dataLength">Bytes behind the header.</param>
    public static byte[] WriteInto(AsfObjects header, TagSet tags, long dataLength)
    {
        var roomy = Write(header, tags, dataLength);
        long padding = header.Length - (roomy.Length - UsualPadding);
        return padding is >= 0 and <= TagEdit.MaxPadding ? Write(header, tags, dataLength, header.Length) : roomy;
    }

    /// <summary>The header with these tags in place of its own, filled up with padding.</summary>
    /// <param name="length">Bytes it has to take, at least 24 more than it needs; null for the usual padding.</param>
    /// <param name="dataLength">Bytes behind the header.</param>
    /// <param name="played">Length of the music where it is to be restated.</param>
    public static byte[] Write(AsfObjects header, TagSet tags, long dataLength, long? length = null, TimeSpan? played = null)
    {
        var extended = header.All(AsfObjects.ExtendedContentDescription)
            .SelectMany(content => AsfTags.SoundAttributesOf(content.Span))
            .ToList();
        var (description, newExtended, library) = AsfTags.Write(tags, extended);
        var objects = new List<(Guid Kind, byte[] Content)>();
        foreach (var (kind, content) in header.Top)
        {
            if (kind == AsfObjects.HeaderExtension && content.Length >= AsfObjects.ExtensionHeadLength)
                objects.Add((kind, Extension(content, library)));
            else if (kind != AsfObjects.ContentDescription && kind != AsfObjects.ExtendedContentDescription && kind != AsfObjects.Padding)
                objects.Add((kind, content.ToArray()));
        }

        if (library is not null && !objects.Exists(each => each.Kind == AsfObjects.HeaderExtension))
            throw new UnreadableAudioException("The tags of this file cannot be rewritten: its header has no extension.");
        if (description is not null)
            objects.Add((AsfObjects.ContentDescription, description));
        if (newExtended is not null)
            objects.Add((AsfObjects.ExtendedContentDescription, newExtended));
        long used = FixedLength + objects.Sum(each => (long)AsfObjects.ObjectHeadLength + each.Content.Length);
        long padding = (length ?? used + AsfObjects.ObjectHeadLength + UsualPadding) - used - AsfObjects.ObjectHeadLength;
        objects.Add((AsfObjects.Padding, new byte[padding]));
        long total = used + AsfObjects.ObjectHeadLength + padding;
        foreach (var (_, content) in objects.Where(each => each.Kind == AsfObjects.FileProperties))
            StateFile(content, total + dataLength, played);

        var stream = new MemoryStream((int)total);
        WriteHead(stream, AsfObjects.Header, total);
        stream.Write(BitConverter.GetBytes(objects.Count));
        stream.Write([1, 2]);
        foreach (var (kind, content) in objects)
        {
            WriteHead(stream, kind, AsfObjects.ObjectHeadLength + content.Length);
            stream.Write(content);
        }

        return stream.ToArray();
    }

    private static byte[] Extension(ReadOnlyMemory<byte> content, byte[]? library)
    {
        var stream = new MemoryStream();
        stream.Write(content.Span[..AsfObjects.ExtensionHeadLength]);
        foreach (var (kind, inner) in AsfObjects.Walk(content[AsfObjects.ExtensionHeadLength..]))
        {
            if (kind == AsfObjects.MetadataLibrary || kind == AsfObjects.Padding)
                continue;
            WriteHead(stream, kind, AsfObjects.ObjectHeadLength + inner.Length);
            stream.Write(inner.Span);
        }

        if (library is not null)
        {
            WriteHead(stream, AsfObjects.MetadataLibrary, AsfObjects.ObjectHeadLength + library.Length);
            stream.Write(library);
        }

        var bytes = stream.ToArray();
        BinaryPrimitives.WriteInt32LittleEndian(
            bytes.AsSpan(AsfObjects.ExtensionHeadLength - 4), bytes.Length - AsfObjects.ExtensionHeadLength);
        return bytes;
    }

    private static void StateFile(Span<byte> properties, long fileLength, TimeSpan? played)
    {
        if (properties.Length < PrerollOffset + 8)
            return;
        BinaryPrimitives.WriteInt64LittleEndian(properties[FileSizeOffset..], fileLength);
        if (played is { } duration)
            BinaryPrimitives.WriteInt64LittleEndian(
                properties[PlayDurationOffset..],
                duration.Ticks + BinaryPrimitives.ReadInt64LittleEndian(properties[PrerollOffset..]) * TimeSpan.TicksPerMillisecond);
    }

    private static void WriteHead(MemoryStream stream, Guid kind, long length)
    {
        stream.Write(kind.ToByteArray());
        stream.Write(BitConverter.GetBytes(length));
    }
}
