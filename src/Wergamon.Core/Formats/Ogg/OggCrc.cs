namespace Wergamon.Core.Formats.Ogg;

/// <summary>The checksum of a page of Ogg: polynomial 04C11DB7, start 0, bits not reflected (RFC 3533, section 6).</summary>
internal static class OggCrc
{
    private const uint Polynomial = 0x04C1_1DB7;

    private static readonly uint[] Table = MakeTable();

    public static uint Append(uint crc, ReadOnlySpan<byte> bytes)
    {
        foreach (byte value in bytes)
            crc = crc << 8 ^ Table[crc >> 24 ^ value];
        return crc;
    }

    private static uint[] MakeTable()
    {
        var table = new uint[256];
        for (uint i = 0; i < table.Length; i++)
        {
            uint value = i << 24;
            for (int bit = 0; bit < 8; bit++)
                value = (value & 0x8000_0000) != 0 ? value << 1 ^ Polynomial : value << 1;
            table[i] = value;
        }

        return table;
    }
}
