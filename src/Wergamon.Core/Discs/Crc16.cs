namespace Wergamon.Core.Discs;

/// <summary>
/// The 16-bit check of disc text packs and of the Q channel (ITU-T polynomial 1021, start 0, all bits inverted; IEC 60908).
/// </summary>
public static class Crc16
{
    public static ushort Of(ReadOnlySpan<byte> data)
    {
        ushort crc = 0;
        foreach (byte each in data)
        {
            crc ^= (ushort)(each << 8);
            for (int bit = 0; bit < 8; bit++)
                crc = (ushort)((crc & 0x8000) != 0 ? crc << 1 ^ 0x1021 : crc << 1);
        }

        return (ushort)~crc;
    }
}
