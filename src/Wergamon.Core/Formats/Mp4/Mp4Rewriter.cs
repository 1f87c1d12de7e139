using System.Buffers.Binary;
using System.Security.Cryptography;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Mp4;

/// <summary>Exchanges the tags of a file of the MP4 family. Packets are copied; where they move, the tables that say where they are follow.</summary>
internal static class Mp4Rewriter
{
    /// <exception cref="UnreadableAudioException">The file is damaged, or in fragments whose places cannot be moved.</exception>
    public static void Rewrite(Stream source, Stream target, TagSet tags)
    {
        var boxes = Mp4TopBoxes.Walk(source);
        var movie = boxes.Find(box => box.Type == "moov");
        if (movie.Type is null || boxes[^1].End != source.Length || boxes.Exists(box => box.Type == "moof"))
            throw new UnreadableAudioException("The tags of this file cannot be rewritten: it is damaged or in fragments.");
        source.Position = movie.ContentOffset;
        var content = source.TryReadBlock(movie.ContentLength) ?? throw new UnreadableAudioException("The movie box of this file is too long.");
        var written = new BoxWriter();
        using (written.Open("moov"u8))
            CopyMovie(content, written, tags);
        var changed = written.ToArray();
        MoveChunks(changed.AsSpan(8), movie.Offset, changed.Length - movie.Length);
        foreach (var box in boxes)
        {
            if (box == movie)
            {
                target.Write(changed);
                continue;
            }

            using var part = new PartStream(source, box.Offset, box.Length);
            part.CopyTo(target);
        }
    }

    /// <summary>SHA-256 over the packets of all streams and their lengths.</summary>
    public static string HashSound(Stream source)
    {
        using var hash = SHA256.Create();
        using (var sink = new CryptoStream(Stream.Null, hash, CryptoStreamMode.Write))
        {
            foreach (var box in Mp4TopBoxes.Walk(source).Where(box => box.Type == "mdat"))
            {
                using var part = new PartStream(source, box.ContentOffset, box.ContentLength);
                part.CopyTo(sink);
            }
        }

        return Convert.ToHexStringLower(hash.Hash!);
    }

    private static void CopyMovie(ReadOnlySpan<byte> movie, BoxWriter into, TagSet tags)
    {
        var soundItems = Mp4Tags.SoundItemsOf(movie);
        var userData = Mp4Movie.Child(movie, "udta"u8);
        CopyAllBut("udta"u8, movie, into);
        using (into.Open("udta"u8))
        {
            CopyAllBut("meta"u8, userData, into);
            Mp4Tags.WriteMeta(into, tags, soundItems);
        }
    }

    private static void CopyAllBut(ReadOnlySpan<byte> left, ReadOnlySpan<byte> boxes, BoxWriter into)
    {
        while (Mp4Movie.NextBox(ref boxes, out var type, out var content))
        {
            if (type.SequenceEqual(left))
                continue;
            using (into.Open(type))
                into.Bytes(content);
        }
    }

    /// <summary>Moves the places of packets behind the movie box.</summary>
    private static void MoveChunks(Span<byte> movie, long after, long by)
    {
        if (by == 0)
            return;
        for (int at = 0; at + 8 <= movie.Length;)
        {
            int length = (int)BinaryPrimitives.ReadUInt32BigEndian(movie[at..]);
            if (length < 8 || length > movie.Length - at)
                return;
            var type = movie.Slice(at + 4, 4);
            var content = movie.Slice(at + 8, length - 8);
            if (type.SequenceEqual("trak"u8) || type.SequenceEqual("mdia"u8) || type.SequenceEqual("minf"u8) || type.SequenceEqual("stbl"u8))
                MoveChunks(content, after, by);
            else if (type.SequenceEqual("stco"u8))
                MoveTable(content, after, by, 4);
            else if (type.SequenceEqual("co64"u8))
                MoveTable(content, after, by, 8);
            at += length;
        }
    }

    private static void MoveTable(Span<byte> table, long after, long by, int width)
    {
        const int HeadLength = 8;
        for (int at = HeadLength; at + width <= table.Length; at += width)
        {
            var place = table[at..];
            long offset = width == 4 ? BinaryPrimitives.ReadUInt32BigEndian(place) : BinaryPrimitives.ReadInt64BigEndian(place);
            if (offset < after)
                continue;
            if (width == 8)
                BinaryPrimitives.WriteInt64BigEndian(place, offset + by);
            else if (offset + by <= uint.MaxValue)
                BinaryPrimitives.WriteUInt32BigEndian(place, (uint)(offset + by));
            else
                throw new UnreadableAudioException("The file would grow beyond the 4 GB that its tables can address.");
        }
    }
}
