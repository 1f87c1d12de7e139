using System.Buffers.Binary;

namespace Wergamon.Core.Bytes;

/// <summary>Bounded reads for parsers of files.</summary>
public static class ByteStreams
{
    /// <summary>Fills the span as far as the stream goes and returns the count.</summary>
    public static int ReadUpTo(this Stream stream, Span<byte> into) => stream.ReadAtLeast(into, into.Length, throwOnEndOfStream: false);

    /// <summary>True when the span could be filled whole.</summary>
    public static bool TryReadWhole(this Stream stream, Span<byte> into) => stream.ReadUpTo(into) == into.Length;

    /// <summary>Longer than any tag or header of a real file.</summary>
    public const int LongestBlock = 64 << 20;

    /// <summary>Reads a block whose declared length must fit into what is left and into <see cref="LongestBlock"/>; null otherwise.</summary>
    public static byte[]? TryReadBlock(this Stream stream, long declaredLength)
    {
        if (declaredLength < 0 || declaredLength > stream.Length - stream.Position || declaredLength > LongestBlock)
            return null;
        var block = GC.AllocateUninitializedArray<byte>((int)declaredLength);
        return stream.TryReadWhole(block) ? block : null;
    }

    public static void WriteUInt32BigEndian(this Stream stream, uint value)
    {
        Span<byte> bytes = stackalloc byte[4];
        BinaryPrimitives.WriteUInt32BigEndian(bytes, value);
        stream.Write(bytes);
    }
}
