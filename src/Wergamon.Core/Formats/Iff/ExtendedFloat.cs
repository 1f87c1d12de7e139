using System.Buffers.Binary;

namespace Wergamon.Core.Formats.Iff;

/// <summary>The 80-bit extended float of AIFF's sample rate (IEEE 754 extended, explicit leading bit).</summary>
public static class ExtendedFloat
{
    public const int Length = 10;
    private const int Bias = 16383;

    /// <summary>The value as a double; NaN for what is not a finite number.</summary>
    public static double Read(ReadOnlySpan<byte> bytes)
    {
        int head = BinaryPrimitives.ReadUInt16BigEndian(bytes);
        ulong mantissa = BinaryPrimitives.ReadUInt64BigEndian(bytes[2..]);
        int exponent = head & 0x7FFF;
        if (exponent == 0x7FFF)
            return double.NaN;
        double value = mantissa * Math.Pow(2, exponent - Bias - 63);
        return (head & 0x8000) != 0 ? -value : value;
    }

    /// <summary>Writes a positive whole number.</summary>
    public static void Write(Span<byte> bytes, int value)
    {
        ArgumentOutOfRangeException.ThrowIfNegativeOrZero(value);
        int leading = System.Numerics.BitOperations.LeadingZeroCount((ulong)value);
        BinaryPrimitives.WriteUInt16BigEndian(bytes, (ushort)(Bias + 63 - leading));
        BinaryPrimitives.WriteUInt64BigEndian(bytes[2..], (ulong)value << leading);
    }
}
