using System.Buffers.Binary;
using System.Text;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Tags.VorbisComment;

/// <summary>The picture block of FLAC (RFC 9639, section 8.8), which Ogg files use too.</summary>
public static class FlacPictureBlock
{
    /// <summary>Bytes that a block takes beside its texts and the picture itself.</summary>
    public const int FixedLength = 32;

    /// <summary>The picture, which keeps the block, or null when a length in it is wrong.</summary>
    public static Picture? Read(ReadOnlyMemory<byte> memory)
    {
        var block = memory.Span;
        if (block.Length < 4)
            return null;
        uint kind = BinaryPrimitives.ReadUInt32BigEndian(block);
        block = block[4..];
        if (!TryTake(ref block, out var mimeType) || !TryTake(ref block, out var description) || block.Length < 16)
            return null;
        block = block[16..];
        if (!TryTake(ref block, out var data))
            return null;
        return new Picture(
            kind <= (uint)PictureKind.PublisherLogo ? (PictureKind)kind : PictureKind.Other,
            Encoding.Latin1.GetString(mimeType), Encoding.UTF8.GetString(description),
            memory.Slice(memory.Length - block.Length - data.Length, data.Length));
    }

    /// <summary>Bytes that a picture takes as a block.</summary>
    public static int LengthOf(Picture picture) =>
        FixedLength + Encoding.Latin1.GetByteCount(picture.MimeType) + Encoding.UTF8.GetByteCount(picture.Description)
            + picture.Data.Length;

    public static void Write(Stream stream, Picture picture)
    {
        var size = PictureSize.Of(picture.Data.Span) ?? default;
        stream.WriteUInt32BigEndian((uint)picture.Kind);
        WriteBytes(stream, Encoding.Latin1.GetBytes(picture.MimeType));
        WriteBytes(stream, Encoding.UTF8.GetBytes(picture.Description));
        stream.WriteUInt32BigEndian((uint)size.Width);
        stream.WriteUInt32BigEndian((uint)size.Height);
        stream.WriteUInt32BigEndian(size == default ? 0u : 24u);
        stream.WriteUInt32BigEndian(0);
        WriteBytes(stream, picture.Data.Span);
    }

    private static bool TryTake(ref ReadOnlySpan<byte> block, out ReadOnlySpan<byte> taken)
    {
        taken = default;
        if (block.Length < 4)
            return false;
        uint length = BinaryPrimitives.ReadUInt32BigEndian(block);
        if (length > block.Length - 4)
            return false;
        taken = block.Slice(4, (int)length);
        block = block[(4 + (int)length)..];
        return true;
    }

    private static void WriteBytes(Stream stream, ReadOnlySpan<byte> bytes)
    {
        stream.WriteUInt32BigEndian((uint)bytes.Length);
        stream.Write(bytes);
    }
}
