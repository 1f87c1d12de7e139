using System.Buffers.Binary;
using System.Text;

namespace Wergamon.Testing.Outside;

/// <summary>A CAF file around packets of ALAC (Core Audio Format specification 1.0: desc, kuki, pakt and data; from memory).</summary>
internal static class OutsideCaf
{
    private const int CookieLength = 24, EntryHead = 36, BoxHead = 12;

    /// <param name="frames">As many as the sound has; the last packet may be shorter than the others.</param>
    public static byte[] OfAlac(OutsideMp4 source, long frames)
    {
        // The box in the entry has the name of the entry; behind its head stands what a decoder has to know.
        var cookie = source.Entry.Span.Slice(EntryHead + BoxHead, CookieLength);
        uint framesInPacket = BinaryPrimitives.ReadUInt32BigEndian(cookie);
        byte bits = cookie[5], channels = cookie[9];
        uint rate = BinaryPrimitives.ReadUInt32BigEndian(cookie[20..]);
        var file = new MemoryStream();
        file.Write("caff\0\u0001\0\0"u8);
        Chunk(file, "desc",
            Bytes(BitConverter.DoubleToInt64Bits(rate), 8), "alac"u8.ToArray(), Bytes(bits switch { 16 => 1, 20 => 2, 24 => 3, _ => 4 }, 4),
            Bytes(0, 4), Bytes(framesInPacket, 4), Bytes(channels, 4), Bytes(0, 4));
        Chunk(file, "kuki", cookie.ToArray());
        long room = source.Packets.Count * (long)framesInPacket;
        var lengths = source.Packets.Select(packet => Varying(packet.Length));
        Chunk(file, "pakt", [Bytes(source.Packets.Count, 8), Bytes(frames, 8), Bytes(0, 4), Bytes(room - frames, 4), .. lengths]);
        Chunk(file, "data", [Bytes(0, 4), .. source.Packets.Select(packet => packet.ToArray())]);
        return file.ToArray();
    }

    private static void Chunk(MemoryStream file, string type, params byte[][] parts)
    {
        file.Write(Encoding.Latin1.GetBytes(type));
        file.Write(Bytes(parts.Sum(part => part.Length), 8));
        foreach (var part in parts)
            file.Write(part);
    }

    private static byte[] Bytes(long value, int count)
    {
        var bytes = new byte[8];
        BinaryPrimitives.WriteInt64BigEndian(bytes, value);
        return bytes[(8 - count)..];
    }

    /// <summary>Seven bits a byte, the highest bit set on all but the last.</summary>
    private static byte[] Varying(int value) =>
        value < 0x80 ? [(byte)value] : [.. Varying(value >> 7).Select(part => (byte)(part | 0x80)), (byte)(value & 0x7F)];
}
