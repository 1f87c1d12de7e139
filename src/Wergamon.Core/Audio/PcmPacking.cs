using System.Buffers.Binary;
using System.Numerics;
using System.Runtime.InteropServices;

namespace Wergamon.Core.Audio;

public enum ByteOrder
{
    LittleEndian,
    BigEndian,
}

/// <summary>
/// Byte layout of samples in a file. Integers that do not fill their bytes (12 or 20 bits, or 24 in four bytes) are left-justified,
/// as WAVEFORMATEXTENSIBLE and AIFF specify.
/// </summary>
/// <param name="Order">Order of the bytes of one sample.</param>
/// <param name="UnsignedBytes">8-bit samples are offset by 128, as in WAV.</param>
/// <param name="RightJustified">Integers that do not fill their bytes are extended by their sign instead.</param>
/// <param name="SampleBytes">Bytes of a sample; 0 for as many as its bits need.</param>
public readonly record struct PcmPacking(ByteOrder Order, bool UnsignedBytes = false, bool RightJustified = false, int SampleBytes = 0)
{
    /// <summary>
    /// Little endian, signed and right-justified at every width: what the FLAC sample MD5 is taken over (RFC 9639, section 8.2).
    /// </summary>
    public static readonly PcmPacking Canonical = new(ByteOrder.LittleEndian, RightJustified: true);

    public static readonly PcmPacking Wav = new(ByteOrder.LittleEndian, UnsignedBytes: true);

    public static readonly PcmPacking Aiff = new(ByteOrder.BigEndian);

    public int BytesPerSample(PcmFormat format) => SampleBytes > 0 ? SampleBytes : format.BytesPerSample;

    public int BytesPerFrame(PcmFormat format) => BytesPerSample(format) * format.Channels;

    /// <summary>Fills the block from whole frames of bytes; sets its frame count.</summary>
    public void Unpack(ReadOnlySpan<byte> bytes, SampleBuffer block)
    {
        var format = block.Format;
        block.FrameCount = bytes.Length / BytesPerFrame(format);
        if (format.IsFloat)
            UnpackFloats(bytes, block);
        else
            UnpackIntegers(bytes, block.Integers, format);
    }

    /// <summary>Writes the samples in use as bytes and returns how many.</summary>
    public int Pack(SampleBuffer block, Span<byte> bytes)
    {
        var format = block.Format;
        int length = block.FrameCount * BytesPerFrame(format);
        if (format.IsFloat)
            PackFloats(block, bytes[..length]);
        else
            PackIntegers(block.Integers, bytes[..length], format);
        return length;
    }

    private void UnpackIntegers(ReadOnlySpan<byte> bytes, Span<int> samples, PcmFormat format)
    {
        int width = BytesPerSample(format);
        int shift = RightJustified ? 0 : width * 8 - format.Bits;
        bool little = Order == ByteOrder.LittleEndian;
        switch (width)
        {
            case 1:
                int offset = UnsignedBytes ? 128 : 0;
                for (int i = 0; i < samples.Length; i++)
                    samples[i] = (UnsignedBytes ? bytes[i] - offset : (sbyte)bytes[i]) >> shift;
                break;
            case 2:
                var shorts = MemoryMarshal.Cast<byte, short>(bytes);
                for (int i = shift > 0 ? 0 : little ? Widen(shorts, samples) : WidenSwapped(shorts, samples); i < samples.Length; i++)
                    samples[i] = (little ? shorts[i] : BinaryPrimitives.ReverseEndianness(shorts[i])) >> shift;
                break;
            case 3 when little:
                for (int i = 0, b = 0; i < samples.Length; i++, b += 3)
                    samples[i] = (bytes[b] << 8 | bytes[b + 1] << 16 | bytes[b + 2] << 24) >> (8 + shift);
                break;
            case 3:
                for (int i = 0, b = 0; i < samples.Length; i++, b += 3)
                    samples[i] = (bytes[b + 2] << 8 | bytes[b + 1] << 16 | bytes[b] << 24) >> (8 + shift);
                break;
            default:
                var ints = MemoryMarshal.Cast<byte, int>(bytes);
                for (int i = 0; i < samples.Length; i++)
                    samples[i] = (little ? ints[i] : BinaryPrimitives.ReverseEndianness(ints[i])) >> shift;
                break;
        }
    }

    private void PackIntegers(ReadOnlySpan<int> samples, Span<byte> bytes, PcmFormat format)
    {
        int width = BytesPerSample(format);
        int shift = RightJustified ? 0 : width * 8 - format.Bits;
        bool little = Order == ByteOrder.LittleEndian;
        switch (width)
        {
            case 1:
                int offset = UnsignedBytes ? 128 : 0;
                for (int i = 0; i < samples.Length; i++)
                    bytes[i] = (byte)((samples[i] << shift) + offset);
                break;
            case 2:
                var shorts = MemoryMarshal.Cast<byte, short>(bytes);
                int done = shift > 0 ? 0 : Narrow(samples, shorts);
                if (!little)
                    BinaryPrimitives.ReverseEndianness(shorts[..done], shorts[..done]);
                for (int i = done; i < samples.Length; i++)
                {
                    short value = (short)(samples[i] << shift);
                    shorts[i] = little ? value : BinaryPrimitives.ReverseEndianness(value);
                }

                break;
            case 3:
                int first = little ? 0 : 2, last = little ? 2 : 0;
                for (int i = 0, b = 0; i < samples.Length; i++, b += 3)
                {
                    int value = samples[i] << shift;
                    bytes[b + first] = (byte)value;
                    bytes[b + 1] = (byte)(value >> 8);
                    bytes[b + last] = (byte)(value >> 16);
                }

                break;
            default:
                var ints = MemoryMarshal.Cast<byte, int>(bytes);
                for (int i = 0; i < samples.Length; i++)
                {
                    int value = samples[i] << shift;
                    ints[i] = little ? value : BinaryPrimitives.ReverseEndianness(value);
                }

                break;
        }
    }

    /// <summary>Vectorised path for the formats of nearly all music; returns how many samples it converted.</summary>
    private static int Widen(ReadOnlySpan<short> from, Span<int> to)
    {
        int i = 0;
        for (; i <= to.Length - Vector<short>.Count; i += Vector<short>.Count)
        {
            Vector.Widen(new Vector<short>(from[i..]), out var low, out var high);
            low.CopyTo(to[i..]);
            high.CopyTo(to[(i + Vector<int>.Count)..]);
        }

        return i;
    }

    /// <summary>The same from the other order of bytes, in pieces that stay in the nearest cache.</summary>
    private static int WidenSwapped(ReadOnlySpan<short> from, Span<int> to)
    {
        const int Piece = 1024;
        Span<short> swapped = stackalloc short[Piece];
        int done = 0;
        for (; done <= to.Length - Piece; done += Piece)
        {
            BinaryPrimitives.ReverseEndianness(from.Slice(done, Piece), swapped);
            Widen(swapped, to.Slice(done, Piece));
        }

        return done;
    }

    /// <inheritdoc cref="Widen"/>
    private static int Narrow(ReadOnlySpan<int> from, Span<short> to)
    {
        int i = 0;
        for (; i <= from.Length - Vector<short>.Count; i += Vector<short>.Count)
            Vector.Narrow(new Vector<int>(from[i..]), new Vector<int>(from[(i + Vector<int>.Count)..])).CopyTo(to[i..]);
        return i;
    }

    private void UnpackFloats(ReadOnlySpan<byte> bytes, SampleBuffer block)
    {
        if (block.Format.Bits == 32)
            CopyWords(bytes, MemoryMarshal.Cast<float, byte>(block.Floats), 4);
        else
            CopyWords(bytes, MemoryMarshal.Cast<double, byte>(block.Doubles), 8);
    }

    private void PackFloats(SampleBuffer block, Span<byte> bytes)
    {
        if (block.Format.Bits == 32)
            CopyWords(MemoryMarshal.Cast<float, byte>(block.Floats), bytes, 4);
        else
            CopyWords(MemoryMarshal.Cast<double, byte>(block.Doubles), bytes, 8);
    }

    private void CopyWords(ReadOnlySpan<byte> from, Span<byte> to, int width)
    {
        from = from[..to.Length];
        if (Order == ByteOrder.LittleEndian)
            from.CopyTo(to);
        else if (width == sizeof(int))
            BinaryPrimitives.ReverseEndianness(MemoryMarshal.Cast<byte, int>(from), MemoryMarshal.Cast<byte, int>(to));
        else
            BinaryPrimitives.ReverseEndianness(MemoryMarshal.Cast<byte, long>(from), MemoryMarshal.Cast<byte, long>(to));
    }
}
