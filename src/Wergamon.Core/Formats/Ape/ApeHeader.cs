using Wergamon.Core.Audio;
using Wergamon.Core.Bytes;
using Wergamon.Core.Tags.Id3v2;

namespace Wergamon.Core.Formats.Ape;

/// <summary>The header of APE files, of version 3.98 and of those before it (from memory; held against libavformat).</summary>
internal static class ApeHeader
{
    private const int LongestHeader = 512;
    private const int SplitHeaderVersion = 3980;
    private const int ExtraHighCompression = 4000;

    private const int Has8Bits = 1;
    private const int HasPeakLevel = 4;
    private const int Has24Bits = 8;

    public static bool Recognises(Stream stream)
    {
        Span<byte> mark = stackalloc byte[4];
        stream.Position = Id3v2Reader.LengthAtStart(stream);
        return stream.TryReadWhole(mark) && mark.SequenceEqual("MAC "u8);
    }

    public static AudioFacts Read(Stream stream)
    {
        Span<byte> head = stackalloc byte[LongestHeader];
        stream.Position = Id3v2Reader.LengthAtStart(stream);
        head = head[..stream.ReadUpTo(head)];
        var cursor = new ByteCursor(head);
        cursor.Skip(4);
        int version = cursor.UInt16LittleEndian();
        var (bits, channels, rate, frames) = version >= SplitHeaderVersion ? ReadSplit(ref cursor) : ReadOld(ref cursor, version);
        if (cursor.IsPastEnd || !HeaderLimits.IsSound(channels, rate) || bits is not (8 or 16 or 24 or 32) || frames is < 1 or > 1L << 48)
            throw new UnreadableAudioException("The file does not say what audio it holds.");
        var format = new PcmFormat(new SampleRate((int)rate), channels, bits);
        return new AudioFacts(
            ApeFormat.Instance, "APE", format, frames, IsLossless: true, AudioFacts.MeanKilobits(stream.Length, frames, format.Rate));
    }

    private static (int Bits, int Channels, uint Rate, long Frames) ReadSplit(ref ByteCursor cursor)
    {
        cursor.Skip(2);
        uint descriptorLength = cursor.UInt32LittleEndian();
        cursor.Skip(descriptorLength - 12L);
        cursor.Skip(4);
        long blocksPerFrame = cursor.UInt32LittleEndian();
        long lastBlocks = cursor.UInt32LittleEndian();
        long count = cursor.UInt32LittleEndian();
        int bits = cursor.UInt16LittleEndian();
        int channels = cursor.UInt16LittleEndian();
        return (bits, channels, cursor.UInt32LittleEndian(), Total(count, blocksPerFrame, lastBlocks));
    }

    private static (int Bits, int Channels, uint Rate, long Frames) ReadOld(ref ByteCursor cursor, int version)
    {
        int compression = cursor.UInt16LittleEndian();
        int flags = cursor.UInt16LittleEndian();
        int channels = cursor.UInt16LittleEndian();
        uint rate = cursor.UInt32LittleEndian();
        cursor.Skip(8);
        long count = cursor.UInt32LittleEndian();
        long lastBlocks = cursor.UInt32LittleEndian();
        long blocksPerFrame = version switch
        {
            >= 3950 => 73_728 * 4,
            >= 3900 => 73_728,
            >= 3800 when compression >= ExtraHighCompression => 73_728,
            _ => 9_216,
        };
        cursor.Skip((flags & HasPeakLevel) != 0 ? 4 : 0);
        return ((flags & Has8Bits) != 0 ? 8 : (flags & Has24Bits) != 0 ? 24 : 16, channels, rate, Total(count, blocksPerFrame, lastBlocks));
    }

    private static long Total(long count, long blocksPerFrame, long lastBlocks) =>
        count == 0 ? 0 : (count - 1) * blocksPerFrame + lastBlocks;
}
