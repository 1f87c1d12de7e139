using System.Buffers.Binary;

namespace Wergamon.Core.Formats.Ogg;

/// <summary>The checksum of a page of Ogg: polynomial 04C11DB7, start 0, bits not reflected (RFC 3533, section 6).</summary>
internal static class OggCrc
{
    private const int Tables = 8, Values = 256;

    private const uint Polynomial = 0x04C1_1DB7;

    private static readonly uint[] Table = MakeTable();

    public static uint Append(uint crc, ReadOnlySpan<byte> bytes)
    {
        // Eight bytes at a time, each through a table of its own.
        for (; bytes.Length >= Tables; bytes = bytes[Tables..])
        {
            crc ^= BinaryPrimitives.ReadUInt32BigEndian(bytes);
            crc = Table[7 * Values + (int)(crc >> 24)] ^ Table[
                6 * Values + (int)(crc >> 16 & 0xFF)] ^ Table[5 * Values + (int)(crc >> 8 & 0xFF)] ^ Table[4 * Values + (int)(crc & 0xFF)]
                ^ Table[3 * Values + bytes[4]] ^ Table[2 * Values + bytes[5]] ^ Table[Values + bytes[6]] ^ Table[bytes[7]];
        }

        foreach (byte value in bytes)
            crc = crc << 8 ^ Table[crc >> 24 ^ value];
        return crc;
    }

    private static uint[] MakeTable()
    {
        var table = new uint[Tables * Values];
        for (uint i = 0; i < Values; i++)
        {
            uint value = i << 24;
            for (int bit = 0; bit < 8; bit++)
                value = (value & 0x8000_0000) != 0 ? value << 1 ^ Polynomial : value << 1;
            table[i] = value;
        }

        // Each further table is the one before it, moved on by a zero byte.
        for (int i = Values; i < table.Length; i++)
            table[i] = table[i - Values] << 8 ^ table[table[i - Values] >> 24];

        return table;
    }
}
