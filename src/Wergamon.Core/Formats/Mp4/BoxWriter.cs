using System.Buffers.Binary;

namespace Wergamon.Core.Formats.Mp4;

/// <summary>Builds boxes in memory (ISO/IEC 14496-12, 4.2): each length is filled in when the box is closed.</summary>
/// <param name="room">Bytes expected.</param>
internal sealed class BoxWriter(int room = 4096)
{
    private byte[] _bytes = GC.AllocateUninitializedArray<byte>(room);

    public int Length { get; private set; }

    /// <summary>Starts a box; dispose of the result to close it.</summary>
    /// <param name="type">Four bytes.</param>
    public OpenBox Open(ReadOnlySpan<byte> type)
    {
        var box = new OpenBox(this, Length);
        UInt32(0);
        Bytes(type);
        return box;
    }

    /// <summary>Starts a box that begins with version and flags.</summary>
    public OpenBox OpenFull(ReadOnlySpan<byte> type, byte version = 0, uint flags = 0)
    {
        var box = Open(type);
        UInt32((uint)version << 24 | flags);
        return box;
    }

    public void Bytes(ReadOnlySpan<byte> bytes) => bytes.CopyTo(Room(bytes.Length));

    public void Byte(int value) => Room(1)[0] = (byte)value;

    public void Zeros(int count) => Room(count).Clear();

    public void UInt16(int value) => BinaryPrimitives.WriteUInt16BigEndian(Room(2), (ushort)value);

    public void UInt64(ulong value) => BinaryPrimitives.WriteUInt64BigEndian(Room(8), value);

    public void UInt32(uint value) => BinaryPrimitives.WriteUInt32BigEndian(Room(4), value);

    /// <summary>A number of 64 bits in version 1 of a box, of 32 in version 0.</summary>
    public void Sized(long value, int version)
    {
        if (version == 1)
            UInt32((uint)(value >> 32));
        UInt32((uint)value);
    }

    public byte[] ToArray() => _bytes[..Length];

    private Span<byte> Room(int length)
    {
        if (Length + length > _bytes.Length)
            Array.Resize(ref _bytes, Math.Max(2 * _bytes.Length, checked(Length + length)));
        Length += length;
        return _bytes.AsSpan(Length - length, length);
    }

    internal readonly struct OpenBox(BoxWriter writer, int start) : IDisposable
    {
        public void Dispose() => BinaryPrimitives.WriteUInt32BigEndian(writer._bytes.AsSpan(start), (uint)(writer.Length - start));
    }
}
