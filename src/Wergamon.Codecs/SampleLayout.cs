namespace Wergamon.Codecs;

/// <summary>
/// Copies samples between libav frames, interleaved or planar, and our interleaved blocks. The
/// conversion is a struct, so that the compiler specialises the loop for each and inlines it.
/// </summary>
internal static unsafe class SampleLayout
{
    public interface IConversion<in TFrom, out TTo>
    {
        TTo Convert(TFrom value);
    }

    public readonly struct Same<T> : IConversion<T, T>
    {
        public T Convert(T value) => value;
    }

    public readonly struct ShortShiftRight(int bits) : IConversion<short, int>
    {
        public int Convert(short value) => value >> bits;
    }

    public readonly struct IntToShort(int bits) : IConversion<int, short>
    {
        private readonly int _shift = 16 - bits;

        public short Convert(int value) => (short)(value << _shift);
    }

    public readonly struct ByteToInt : IConversion<byte, int>
    {
        public int Convert(byte value) => value - 128;
    }

    public readonly struct IntToFloat(int bits) : IConversion<int, float>
    {
        private readonly float _unit = 1f / (1L << (bits - 1));

        public float Convert(int value) => value * _unit;
    }

    public readonly struct DoubleToFloat : IConversion<double, float>
    {
        public float Convert(double value) => (float)value;
    }

    public readonly struct ShiftRight(int bits) : IConversion<int, int>
    {
        public int Convert(int value) => value >> bits;
    }

    public readonly struct ShiftLeft(int bits) : IConversion<int, int>
    {
        public int Convert(int value) => value << bits;
    }

    /// <summary>Reads from a frame, starting at its sample <paramref name="offset"/>, into interleaved samples.</summary>
    public static void Gather<TFrom, TTo, TConversion>(
        byte** planes, bool planar, int offset, int channels, Span<TTo> to, TConversion conversion)
        where TFrom : unmanaged
        where TConversion : struct, IConversion<TFrom, TTo>
    {
        if (!planar || channels == 1)
        {
            var from = (TFrom*)planes[0] + (long)offset * channels;
            for (int i = 0; i < to.Length; i++)
                to[i] = conversion.Convert(from[i]);
            return;
        }

        for (int c = 0; c < channels; c++)
        {
            var from = (TFrom*)planes[c] + offset;
            for (int i = c; i < to.Length; i += channels)
                to[i] = conversion.Convert(*from++);
        }
    }

    /// <summary>Writes interleaved samples into a frame, starting at its sample <paramref name="offset"/>.</summary>
    public static void Scatter<TFrom, TTo, TConversion>(
        ReadOnlySpan<TFrom> from, byte** planes, bool planar, int offset, int channels, TConversion conversion)
        where TTo : unmanaged
        where TConversion : struct, IConversion<TFrom, TTo>
    {
        if (!planar || channels == 1)
        {
            var to = (TTo*)planes[0] + (long)offset * channels;
            for (int i = 0; i < from.Length; i++)
                to[i] = conversion.Convert(from[i]);
            return;
        }

        for (int c = 0; c < channels; c++)
        {
            var to = (TTo*)planes[c] + offset;
            for (int i = c; i < from.Length; i += channels)
                *to++ = conversion.Convert(from[i]);
        }
    }
}
