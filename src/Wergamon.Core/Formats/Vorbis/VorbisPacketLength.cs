using System.Numerics;

namespace Wergamon.Core.Formats.Vorbis;

/// <summary>
/// How many samples each packet adds (Vorbis I specification, 4.3.8): a quarter of its block and a quarter of the one before,
/// whose halves overlap. Packets are given in order.
/// </summary>
internal sealed class VorbisPacketLength
{
    private const int BlockSizesAt = 28;
    private const int ModeBits = 41;
    private const int MaxModes = 64;

    private readonly int[] _blockSizes;
    private readonly int _modeNumberBits;
    private int _previous;

    private VorbisPacketLength(int[] blockSizes) => (_blockSizes, _modeNumberBits) = (blockSizes, BitLength(blockSizes.Length - 1));

    /// <summary>Null where the headers do not say it.</summary>
    public static VorbisPacketLength? Of(VorbisHeaders headers)
    {
        if (headers.Identification.Length <= BlockSizesAt)
            return null;
        int sizes = headers.Identification[BlockSizesAt];
        var (small, large) = (1 << (sizes & 15), 1 << (sizes >> 4));
        return ReadModes(headers.Setup) is { } modes ? new VorbisPacketLength([.. modes.Select(isLarge => isLarge ? large : small)]) : null;
    }

    /// <summary>Samples of one channel that the packet adds; none for the first.</summary>
    public long Next(ReadOnlySpan<byte> packet)
    {
        // The lowest bit is 0 for audio; the number of the mode follows.
        if (packet.IsEmpty || (packet[0] & 1) != 0)
            return 0;
        int mode = packet[0] >> 1 & (1 << _modeNumberBits) - 1;
        if (mode >= _blockSizes.Length)
            return 0;
        int current = _blockSizes[mode];
        long frames = _previous == 0 ? 0 : _previous / 4 + current / 4;
        _previous = current;
        return frames;
    }

    /// <summary>
    /// Whether the blocks of each mode are large (4.2.4). The modes end the setup, behind tables that nothing needs here, so they are
    /// read from its end: each has a bit for its block, 32 bits that are 0, and a mapping; before the first stands their number.
    /// </summary>
    private static List<bool>? ReadModes(ReadOnlySpan<byte> setup)
    {
        int end = setup.Length * 8;
        while (end > 0 && Bit(setup, end - 1) == 0)
            end--;
        // That was the framing bit.
        end--;
        List<bool>? found = null;
        var modes = new List<bool>();
        for (int start = end - ModeBits; start > 6 && modes.Count < MaxModes; start -= ModeBits)
        {
            if (Bits(setup, start + 1, 32) != 0)
                break;
            modes.Insert(0, Bit(setup, start) == 1);
            if (Bits(setup, start - 6, 6) + 1 == modes.Count)
                found = [.. modes];
        }

        return found;
    }

    private static int Bit(ReadOnlySpan<byte> bytes, int at) => bytes[at / 8] >> at % 8 & 1;

    private static long Bits(ReadOnlySpan<byte> bytes, int at, int count)
    {
        long value = 0;
        for (int i = 0; i < count; i++)
            value |= (long)Bit(bytes, at + i) << i;
        return value;
    }

    private static int BitLength(int value) => value == 0 ? 0 : BitOperations.Log2((uint)value) + 1;
}
