using System.Buffers.Binary;

namespace Wergamon.Core.Discs;

/// <summary>
/// The 32-bit cyclic redundancy check of ISO 3309 and ITU-T V.42 (polynomial 04C11DB7, reflected), by which readings of a
/// track are compared. Eight bytes at a step.
/// </summary>
public sealed class Crc32
{
    private const uint Polynomial = 0xEDB88320;
    private const int Slices = 8;

    private static readonly uint[][] Tables = MakeTables();

    private uint _state = uint.MaxValue;

    public uint Value => ~_state;

    public void Append(ReadOnlySpan<byte> data)
    {
        uint state = _state;
        var (t0, t1, t2, t3, t4, t5, t6, t7) = (Tables[0], Tables[1], Tables[2], Tables[3], Tables[4], Tables[5], Tables[6], Tables[7]);
        while (data.Length >= Slices)
        {
            uint low = BinaryPrimitives.ReadUInt32LittleEndian(data) ^ state;
            uint high = BinaryPrimitives.ReadUInt32LittleEndian(data[4..]);
            state = t7[(byte)low] ^ t6[(byte)(low >> 8)] ^ t5[(byte)(low >> 16)] ^ t4[low >> 24]
                ^ t3[(byte)high] ^ t2[(byte)(high >> 8)] ^ t1[(byte)(high >> 16)] ^ t0[high >> 24];
            data = data[Slices..];
        }

        foreach (byte each in data)
            state = t0[(byte)(state ^ each)] ^ (state >> 8);
        _state = state;
    }

    private static uint[][] MakeTables()
    {
        var tables = new uint[Slices][];
        for (int slice = 0; slice < Slices; slice++)
        {
            tables[slice] = new uint[256];
            for (uint i = 0; i < 256; i++)
                tables[slice][i] = slice == 0 ? OneByte(i) : tables[slice - 1][i] >> 8 ^ tables[0][(byte)tables[slice - 1][i]];
        }

        return tables;
    }

    private static uint OneByte(uint value)
    {
        for (int bit = 0; bit < 8; bit++)
            value = (value & 1) != 0 ? value >> 1 ^ Polynomial : value >> 1;
        return value;
    }
}
