using System.Buffers.Binary;

namespace Wergamon.Core.Formats.Alac;

/// <summary>How long the packets of Apple Lossless are (its published description, from memory).</summary>
internal static class AlacPacket
{
    /// <summary>The setup with the head of its box.</summary>
    public const int SetupLength = 36;

    private const int UsualFramesAt = 12;
    private const int HasLengthBit = 19;

    /// <summary>Samples of one channel in every packet that states no length of its own.</summary>
    public static int UsualFrames(ReadOnlySpan<byte> setup) => (int)BinaryPrimitives.ReadUInt32BigEndian(setup[UsualFramesAt..]);

    /// <summary>
    /// The first element starts with its kind, an instance and unused bits; then a bit says whether a length of 32 bits follows three bits
    /// later.
    /// </summary>
    public static long FramesOf(ReadOnlySpan<byte> packet, int usual)
    {
        const int LengthAt = HasLengthBit + 4;
        if (packet.Length < 8 || (packet[HasLengthBit / 8] >> (7 - HasLengthBit % 8) & 1) == 0)
            return usual;
        ulong bits = BinaryPrimitives.ReadUInt64BigEndian(packet);
        return (uint)(bits >> (64 - LengthAt - 32));
    }
}
