using System.Buffers.Binary;
using System.Text;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Formats.Mp4;

/// <summary>A box that is in no other.</summary>
/// <param name="Type">Four characters.</param>
/// <param name="Length">Bytes, head included, as stated; the file may hold fewer.</param>
internal readonly record struct TopBox(string Type, long Offset, int HeadLength, long Length)
{
    public long ContentOffset => Offset + HeadLength;

    public long ContentLength => Length - HeadLength;

    public long End => Offset + Length;
}

/// <summary>The boxes of a file of the MP4 family (ISO/IEC 14496-12, 4.2).</summary>
internal static class Mp4TopBoxes
{
    /// <summary>All boxes up to the first that is damaged or leaves the file; none for another kind of file.</summary>
    public static List<TopBox> Walk(Stream stream)
    {
        Span<byte> head = stackalloc byte[16];
        var boxes = new List<TopBox>();
        for (long at = 0; boxes.Count < Limits.MaxTopBoxes && at < stream.Length;)
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

            var box = new TopBox(Encoding.Latin1.GetString(head.Slice(4, 4)), at, headLength, length);
            if (boxes.Count == 0 && box.Type is not ("ftyp" or "moov" or "wide" or "mdat" or "skip" or "free") || length < headLength)
                break;
            boxes.Add(box);
            if (length > stream.Length - at)
                break;
            at += length;
        }

        return boxes;
    }
}
