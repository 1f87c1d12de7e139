using System.Buffers.Binary;
using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Tags;

namespace Wergamon.Core.Formats.Mp4;

/// <summary>
/// Exchanges the tags of a file of the MP4 family. Packets are copied; where they move, the tables that say where they are follow.
/// </summary>
internal static class Mp4Rewriter
{
    /// <summary>Room left behind a movie box that precedes the packets.</summary>
    private const int Padding = 4096;

    private const int BoxHeadLength = 8;

    /// <summary>
    /// A file with other tags. A movie box at the end is rewritten there; one before the packets takes up free boxes behind it, so
    /// that the packets stay where they are.
    /// </summary>
    /// <exception cref="UnreadableAudioException">The file is damaged, or in fragments whose places cannot be moved.</exception>
    public static TagEdit Edit(Stream source, TagSet tags)
    {
        var boxes = Mp4TopBoxes.Walk(source);
        int at = boxes.FindIndex(box => box.Type == "moov");
        if (at < 0 || boxes[^1].End != source.Length || boxes.Exists(box => box.Type == "moof"))
            throw new UnreadableAudioException("The tags of this file cannot be changed: it is damaged or in fragments.");
        var movie = boxes[at];
        source.Position = movie.ContentOffset;
        var content = source.TryReadBlock(movie.ContentLength)
            ?? throw new UnreadableAudioException("The movie box of this file is too long.");
        var written = new BoxWriter(content.Length + Padding);
        using (written.Open("moov"u8))
            CopyMovie(content, written, tags);
        int next = at + 1;
        while (next < boxes.Count && boxes[next].Type is "free" or "skip")
            next++;
        long room = boxes[next - 1].End - movie.Offset;
        bool isLast = next == boxes.Count;
        long left = room - written.Length;
        long free = isLast || left == 0 ? 0 : left is >= BoxHeadLength and <= TagEdit.MaxPadding ? left : Padding;
        var changed = written.ToArray();
        MoveChunks(changed.AsSpan(BoxHeadLength), movie.Offset, isLast ? 0 : changed.Length + free - room);
        var edit = new TagEdit();
        edit.Keep(0, movie.Offset);
        edit.Add(changed);
        if (free > 0)
            edit.Add(FreeBox(free));
        edit.Keep(movie.Offset + room, source.Length - movie.Offset - room);
        return edit;
    }

    /// <summary>A hash over the packets of all streams.</summary>
    public static string HashSound(Stream source)
    {
        var hash = new RangeHash();
        foreach (var box in Mp4TopBoxes.Walk(source).Where(box => box.Type == "mdat"))
            hash.Add(source, box.ContentOffset, box.ContentLength);
        return hash.ToString();
    }

    private static byte[] FreeBox(long length)
    {
        var box = new byte[length];
        BinaryPrimitives.WriteUInt32BigEndian(box, (uint)length);
        "free"u8.CopyTo(box.AsSpan(4));
        return box;
    }

    private static void CopyMovie(ReadOnlySpan<byte> movie, BoxWriter into, TagSet tags)
    {
        var soundItems = Mp4Tags.SoundItemsOf(movie);
        var userData = Mp4Movie.Child(movie, "udta"u8);
        CopyAllBut("udta"u8, default, movie, into);
        using (into.Open("udta"u8))
        {
            // A list of chapters that says what the tags say stays as it is, with its finer times.
            bool areChaptersKept = Mp4Chapters.Read(userData).SequenceEqual(tags[FieldNames.Chapters]);
            CopyAllBut("meta"u8, areChaptersKept ? default : "chpl"u8, userData, into);
            if (!areChaptersKept)
                Mp4Chapters.Write(into, tags[FieldNames.Chapters]);
            Mp4Tags.WriteMeta(into, tags, soundItems);
        }
    }

    private static void CopyAllBut(ReadOnlySpan<byte> some, ReadOnlySpan<byte> others, ReadOnlySpan<byte> boxes, BoxWriter into)
    {
        while (Mp4Movie.NextBox(ref boxes, out var type, out var content))
        {
            if (type.SequenceEqual(some) || type.SequenceEqual(others))
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
            if (type.SequenceEqual("trak"u8) || type.SequenceEqual("mdia"u8) || type.SequenceEqual("minf"u8)
                || type.SequenceEqual("stbl"u8))
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
