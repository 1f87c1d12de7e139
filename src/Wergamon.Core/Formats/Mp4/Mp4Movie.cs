using System.Buffers.Binary;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Formats.Mp4;

/// <summary>The movie box of a file of the MP4 family (ISO/IEC 14496-12), which holds all facts and tags.</summary>
internal sealed class Mp4Movie
{
    private readonly byte[] _content;

    private Mp4Movie(byte[] content, long soundBytes)
    {
        _content = content;
        SoundBytes = soundBytes;
    }

    public ReadOnlySpan<byte> Content => _content;

    /// <summary>A part of <see cref="Content"/>, to be kept: a picture is not copied.</summary>
    public ReadOnlyMemory<byte> Keep(ReadOnlySpan<byte> part) =>
        Content.Overlaps(part, out int offset) ? _content.AsMemory(offset, part.Length) : part.ToArray();

    /// <summary>Bytes of all media data boxes.</summary>
    public long SoundBytes { get; }

    /// <summary>Null where the file is not of this family.</summary>
    /// <exception cref="UnreadableAudioException">It is, and has no movie box that could be read.</exception>
    public static Mp4Movie? Find(Stream stream)
    {
        var boxes = Mp4TopBoxes.Walk(stream);
        if (boxes.Count == 0)
            return null;
        long sound = boxes.Where(box => box.Type == "mdat").Sum(box => Math.Min(box.Length, stream.Length - box.Offset) - box.HeadLength);
        foreach (var box in boxes.Where(box => box.Type == "moov").Take(1))
        {
            stream.Position = box.ContentOffset;
            if (stream.TryReadBlock(box.ContentLength) is { } movie)
                return new Mp4Movie(movie, sound);
        }

        throw new UnreadableAudioException("The file does not say what audio it holds: its movie box is missing or cut off.");
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
