using System.Buffers.Binary;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Formats.Iff;

namespace Wergamon.Core.Formats.Mp4;

/// <summary>The movie box of a file of the MP4 family (ISO/IEC 14496-12), which holds all facts and tags.</summary>
internal sealed class Mp4Movie
{
    private const int MaxBoxes = 100_000;

    private readonly byte[] _content;

    private Mp4Movie(byte[] content, long soundBytes)
    {
        _content = content;
        SoundBytes = soundBytes;
    }

    public ReadOnlySpan<byte> Content => _content;

    /// <summary>Bytes of all media data boxes.</summary>
    public long SoundBytes { get; }

    /// <summary>Null where the file is not of this family.</summary>
    /// <exception cref="UnreadableAudioException">It is, and has no movie box that could be read.</exception>
    public static Mp4Movie? Find(Stream stream)
    {
        Span<byte> head = stackalloc byte[16];
        byte[]? movie = null;
        bool isFamily = false;
        long at = 0, sound = 0;
        for (int i = 0; i < MaxBoxes && at < stream.Length; i++)
        {
            stream.Position = at;
            int got = stream.ReadUpTo(head);
            if (got < 8)
                break;
            long length = BinaryPrimitives.ReadUInt32BigEndian(head);
            int headLength = 8;
            if (length == 1 && got == 16)
            {
                length = BinaryPrimitives.ReadInt64BigEndian(head[8..]);
                headLength = 16;
            }
            else if (length == 0)
            {
                length = stream.Length - at;
            }

            var type = head.Slice(4, 4);
            isFamily |= i == 0 && (type.SequenceEqual("ftyp"u8) || type.SequenceEqual("moov"u8) || type.SequenceEqual("wide"u8) || type.SequenceEqual("mdat"u8) || type.SequenceEqual("skip"u8) || type.SequenceEqual("free"u8));
            if (!isFamily || length < headLength)
                break;
            if (type.SequenceEqual("mdat"u8))
                sound += Math.Min(length, stream.Length - at) - headLength;
            if (type.SequenceEqual("moov"u8) && movie is null)
            {
                stream.Position = at + headLength;
                movie = stream.TryReadBlock(length - headLength);
            }

            if (length > stream.Length - at)
                break;
            at += length;
        }

        return movie is not null ? new Mp4Movie(movie, sound)
            : isFamily ? throw new UnreadableAudioException("The file does not say what sound it holds: its movie box is missing or cut off.")
            : null;
    }

    /// <summary>The content of the first child box of a type; empty where there is none.</summary>
    public static ReadOnlySpan<byte> Child(ReadOnlySpan<byte> parent, ReadOnlySpan<byte> type)
    {
        while (NextBox(ref parent, out var found, out var content))
        {
            if (found.SequenceEqual(type))
                return content;
        }

        return default;
    }

    /// <summary>Follows child boxes down a path of four-letter types written one after another.</summary>
    public static ReadOnlySpan<byte> Descendant(ReadOnlySpan<byte> parent, ReadOnlySpan<byte> path)
    {
        for (; !path.IsEmpty; path = path[4..])
            parent = Child(parent, path[..4]);
        return parent;
    }

    /// <summary>Takes the next box off a list of boxes; false at its end or at a bad length.</summary>
    public static bool NextBox(scoped ref ReadOnlySpan<byte> boxes, out ReadOnlySpan<byte> type, out ReadOnlySpan<byte> content)
    {
        type = content = default;
        if (boxes.Length < 8)
            return false;
        long length = BinaryPrimitives.ReadUInt32BigEndian(boxes);
        if (length == 0)
            length = boxes.Length;
        if (length < 8 || length > boxes.Length)
            return false;
        type = boxes.Slice(4, 4);
        content = boxes[8..(int)length];
        boxes = boxes[(int)length..];
        return true;
    }
}
