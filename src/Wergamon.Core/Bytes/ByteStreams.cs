using System.Buffers.Binary;

namespace Wergamon.Core.Bytes;

/// <summary>Bounded reads for parsers of files.</summary>
public static class ByteStreams
{
    /// <summary>Fills the span up to the end of the stream and returns the count.</summary>
    public static int ReadUpTo(this Stream stream, Span<byte> into) => stream.ReadAtLeast(into, into.Length, throwOnEndOfStream: false);

    /// <summary>True when the span could be filled whole.</summary>
    public static bool TryReadWhole(this Stream stream, Span<byte> into) => stream.ReadUpTo(into) == into.Length;

    /// <summary>
    /// Reads a block whose declared length must fit into the rest of the stream and into <see cref="Limits.MaxBlock"/>; null otherwise.
    /// </summary>
    public static byte[]? TryReadBlock(this Stream stream, long declaredLength)
    {
        if (declaredLength < 0 || declaredLength > stream.Length - stream.Position || declaredLength > Limits.MaxBlock)
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
