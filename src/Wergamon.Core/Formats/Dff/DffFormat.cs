using System.Buffers.Binary;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Formats.Dff;

/// <summary>One-bit sound in DSDIFF files (DSDIFF 1.5, from memory; held against libavformat), not compressed. Only read.</summary>
public sealed class DffFormat : FileFormat
{
    private const int HeadLength = 16;
    private const int ChunkHead = 12;

    public static DffFormat Instance { get; } = new();

    private DffFormat() : base("dff", "DSDIFF") { }

    internal override OpenedFile? Open(Stream stream, ReadOnlySpan<byte> start)
    {
        if (!start.StartsWith("FRM8"u8))
            return null;
        var chunks = Walk(stream, HeadLength, stream.Length);
        return new OpenedFile(
            this, () => ReadFacts(stream, chunks),
            () => chunks.Find(chunk => chunk.Id == "ID3 ") is { Length: > 0 } tag
                ? Id3v2Reader.ReadAt(stream, tag.Offset, Math.Min(tag.Length, stream.Length - tag.Offset))
                : new TagReading(new TagSet(), []));
    }

    /// <summary>Null for compressed sound, of which only a decoder can tell the length.</summary>
    private AudioFacts? ReadFacts(Stream stream, List<Chunk> chunks)
    {
        var properties = chunks.Find(chunk => chunk.Id == "PROP");
        if (properties.Length < 4)
            throw new UnreadableAudioException("The DSDIFF file does not say what audio it holds.");
        uint rate = 0;
        int channels = 0;
        bool isPlain = true;
        foreach (var chunk in Walk(stream, properties.Offset + 4, Math.Min(stream.Length, properties.Offset + properties.Length)))
        {
            stream.Position = chunk.Offset;
            if (stream.TryReadBlock(Math.Min(chunk.Length, 4)) is not { Length: >= 2 } value)
                continue;
            if (chunk.Id == "FS  " && value.Length == 4)
                rate = BinaryPrimitives.ReadUInt32BigEndian(value);
            else if (chunk.Id == "CHNL")
                channels = BinaryPrimitives.ReadUInt16BigEndian(value);
            else if (chunk.Id == "CMPR")
                isPlain = value.AsSpan().SequenceEqual("DSD "u8);
        }

        if (!isPlain)
            return null;
        if (OneBitSound.FormatOf(channels, rate) is not { } format)
            throw new UnreadableAudioException("The DSDIFF file does not say what audio it holds.");
        return OneBitSound.Facts(this, format, chunks.Find(chunk => chunk.Id == "DSD ").Length / channels, rate, stream.Length);
    }

    private static List<Chunk> Walk(Stream stream, long from, long end)
    {
        Span<byte> head = stackalloc byte[ChunkHead];
        var chunks = new List<Chunk>();
        for (long at = from; chunks.Count < Limits.MaxParts && at + ChunkHead <= end;)
        {
            stream.Position = at;
            if (!stream.TryReadWhole(head))
                break;
            long length = BinaryPrimitives.ReadInt64BigEndian(head[4..]);
            if (length < 0)
                break;
            chunks.Add(new Chunk(System.Text.Encoding.Latin1.GetString(head[..4]), at + ChunkHead, length));
            if (length > end - at - ChunkHead)
                break;
            at += ChunkHead + length + (length & 1);
        }

        return chunks;
    }

    private readonly record struct Chunk(string Id, long Offset, long Length);
}
