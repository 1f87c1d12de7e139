using System.Buffers.Binary;

namespace Wergamon.Core.Bytes;

/// <summary>
/// Reads through a block whose lengths cannot be trusted. Reading past the end gives zeros and empty spans and is remembered, so that a
/// parser checks once at its end instead of at every field.
/// </summary>
internal ref struct ByteCursor(ReadOnlySpan<byte> block)
{
    private ReadOnlySpan<byte> _rest = block;

    /// <summary>True when something was read past the end.</summary>
    public bool IsPastEnd { get; private set; }

    public readonly int Left => _rest.Length;

    public readonly ReadOnlySpan<byte> Rest => _rest;

    public ReadOnlySpan<byte> Take(long length)
    {
        if (length < 0 || length > _rest.Length)
        {
            IsPastEnd = true;
            _rest = default;
            return default;
        }

        var taken = _rest[..(int)length];
        _rest = _rest[(int)length..];
        return taken;
    }

    public void Skip(long length) => Take(length);

    public byte Byte() => Take(1) is [var value] ? value : (byte)0;

    public ushort UInt16LittleEndian() => Take(2) is { Length: 2 } bytes ? BinaryPrimitives.ReadUInt16LittleEndian(bytes) : (ushort)0;

    public ushort UInt16BigEndian() => Take(2) is { Length: 2 } bytes ? BinaryPrimitives.ReadUInt16BigEndian(bytes) : (ushort)0;

    public uint UInt32LittleEndian() => Take(4) is { Length: 4 } bytes ? BinaryPrimitives.ReadUInt32LittleEndian(bytes) : 0;

    public uint UInt32BigEndian() => Take(4) is { Length: 4 } bytes ? BinaryPrimitives.ReadUInt32BigEndian(bytes) : 0;

    public ulong UInt64LittleEndian() => Take(8) is { Length: 8 } bytes ? BinaryPrimitives.ReadUInt64LittleEndian(bytes) : 0;

    public ulong UInt64BigEndian() => Take(8) is { Length: 8 } bytes ? BinaryPrimitives.ReadUInt64BigEndian(bytes) : 0;
}
