namespace Wergamon.Core.Tags.Id3v2;

/// <summary>28-bit numbers in four bytes whose top bits are zero (ID3v2.4.0 - Main Structure, section 6.2).</summary>
internal static class Syncsafe
{
    public const int Most = (1 << 28) - 1;

    /// <summary>The number, or null when a top bit is set.</summary>
    public static int? Read(ReadOnlySpan<byte> bytes) =>
        ((bytes[0] | bytes[1] | bytes[2] | bytes[3]) & 0x80) != 0 ? null : bytes[0] << 21 | bytes[1] << 14 | bytes[2] << 7 | bytes[3];

    public static void Write(Span<byte> bytes, int value)
    {
        for (int i = 3; i >= 0; i--, value >>= 7)
            bytes[i] = (byte)(value & 0x7F);
    }
}
