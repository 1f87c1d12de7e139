using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Formats.WavPack;

/// <summary>The first blocks of a WavPack file (WavPack 4 and 5 file format, from memory; held against libavformat).</summary>
internal static class WavPackHeader
{
    private const int BlockHeadLength = 32;

    /// <summary>
    /// A file of several channels starts with a block for each one or two of them; before and between them may be blocks without samples.
    /// </summary>
    private const int MaxBlocks = 64;

    private const uint UnknownLength = uint.MaxValue;
    private const uint IsMono = 0x4;
    private const uint IsHybrid = 0x8;
    private const uint HoldsFloats = 0x80;
    private const uint IsLastBlock = 0x1000;
    private const uint HoldsDsd = 0x8000_0000;
    private const int LargeBlock = 0x80;
    private const int CustomRate = 0x27;

    private static readonly int[] Rates = [
        6000, 8000, 9600, 11_025, 12_000, 16_000, 22_050, 24_000, 32_000, 44_100, 48_000, 64_000, 88_200, 96_000, 192_000
    ];

    public static bool Recognises(ReadOnlySpan<byte> start) => start.StartsWith("wvpk"u8);

    /// <summary>Null where the header leaves the length open or holds one-bit sound.</summary>
    public static AudioFacts? Read(Stream stream)
    {
        Span<byte> head = stackalloc byte[BlockHeadLength];
        long at = 0;
        int channels = 0;
        PcmFormat? format = null;
        long frames = 0;
        bool isLossless = true;
        for (int block = 0; block < MaxBlocks; block++)
        {
            if (at > stream.Length)
                throw Unreadable();
            stream.Position = at;
            if (!stream.TryReadWhole(head) || !Recognises(head))
                throw Unreadable();
            var cursor = new ByteCursor(head[4..]);
            uint length = cursor.UInt32LittleEndian();
            cursor.Skip(3);
            long highTotal = cursor.Byte();
            uint total = cursor.UInt32LittleEndian();
            cursor.Skip(4);
            uint samples = cursor.UInt32LittleEndian();
            uint flags = cursor.UInt32LittleEndian();
            if (samples == 0 && format is null && length >= BlockHeadLength - 8)
            {
                at += length + 8L;
                continue;
            }

            if (total == UnknownLength || (flags & HoldsDsd) != 0)
                return null;
            if (length < BlockHeadLength - 8
                || stream.TryReadBlock(Math.Min(length - (BlockHeadLength - 8), stream.Length - stream.Position)) is not { } content)
                throw Unreadable();
            channels += (flags & IsMono) != 0 ? 1 : 2;
            isLossless &= (flags & IsHybrid) == 0;
            if (format is null)
            {
                frames = total + (highTotal << 32) - highTotal;
                format = Describe(flags, content);
            }

            if ((flags & IsLastBlock) != 0)
                break;
            at += length + 8L;
        }

        if (format is not { } described || channels is < 1 or > 8 || frames <= 0)
            throw Unreadable();
        described = new PcmFormat(described.Rate, channels, described.Bits, described.Kind);
        return new AudioFacts(
            WavPackFormat.Instance, "WavPack", described, frames, isLossless,
            AudioFacts.MeanKilobits(stream.Length, frames, described.Rate))
        {
            IsVariableBitRate = isLossless ? null : true,
        };
    }

    private static PcmFormat? Describe(uint flags, ReadOnlySpan<byte> content)
    {
        int index = (int)(flags >> 23 & 15);
        int rate = index < Rates.Length ? Rates[index] : ReadCustomRate(content);
        if (!HeaderLimits.IsRate(rate))
            return null;
        if ((flags & HoldsFloats) != 0)
            return new PcmFormat(new SampleRate(rate), 2, 32, SampleKind.Float);
        int bits = ((int)(flags & 3) + 1) * 8 - (int)(flags >> 13 & 31);
        return bits < 1 ? null : new PcmFormat(new SampleRate(rate), 2, bits);
    }

    private static int ReadCustomRate(ReadOnlySpan<byte> content)
    {
        var cursor = new ByteCursor(content);
        while (cursor.Left >= 2)
        {
            int id = cursor.Byte();
            long words = cursor.Byte();
            if ((id & LargeBlock) != 0)
                words |= (long)cursor.UInt16LittleEndian() << 8;
            var data = cursor.Take(words * 2);
            if ((id & 0x3F) == CustomRate && data.Length >= 3)
                return data[0] | data[1] << 8 | data[2] << 16;
        }

        return 0;
    }

    private static UnreadableAudioException Unreadable() => new("The file does not say what audio it holds.");
}
