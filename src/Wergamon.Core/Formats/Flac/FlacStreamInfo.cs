using System.Buffers.Binary;
using Wergamon.Core.Audio;

namespace Wergamon.Core.Formats.Flac;

/// <summary>The STREAMINFO block of FLAC (RFC 9639, section 8.2).</summary>
/// <param name="Format">Format of the samples.</param>
/// <param name="FrameCount">Samples of one channel in all; null where the file leaves it open.</param>
/// <param name="SampleMd5">32 hexadecimal digits; null where the file leaves it open.</param>
public sealed record FlacStreamInfo(PcmFormat Format, long? FrameCount, string? SampleMd5)
{
    public const int Length = 34;

    /// <summary>Null when the numbers cannot be true.</summary>
    public static FlacStreamInfo? Read(ReadOnlySpan<byte> block)
    {
        if (block.Length < Length)
            return null;
        ulong packed = BinaryPrimitives.ReadUInt64BigEndian(block[10..]);
        int rate = (int)(packed >> 44);
        int channels = (int)(packed >> 41 & 7) + 1;
        int bits = (int)(packed >> 36 & 31) + 1;
        long frames = (long)(packed & 0xF_FFFF_FFFF);
        var md5 = block[18..Length];
        if (rate == 0 || bits < 4)
            return null;
        return new FlacStreamInfo(
            new PcmFormat(new SampleRate(rate), channels, bits),
            frames == 0 ? null : frames,
            md5.IndexOfAnyExcept((byte)0) < 0 ? null : Convert.ToHexStringLower(md5));
    }
}
