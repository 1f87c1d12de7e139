using System.Runtime.InteropServices;
using Wergamon.Core.Audio;

namespace Wergamon.Codecs;

/// <summary>
/// Layout of the libav structures of Debian 12 on x86-64 (libavcodec 59, libavformat 59, libavutil 57), as far as they
/// are used: offsets in bytes from the start of each structure. Nothing else in the project knows them.
/// </summary>
internal static class LibAvLayout
{
    public const uint CodecMajor = 59;
    public const uint FormatMajor = 59;
    public const uint UtilMajor = 57;

    public static class FormatContext
    {
        public const int Pb = 32;
        public const int Streams = 48;
        public const int Duration = 72;
        public const int BitRate = 80;
    }

    public static class Stream
    {
        public const int TimeBase = 16;
        public const int Duration = 32;
        public const int CodecParameters = 208;
    }

    public static class CodecParameters
    {
        public const int CodecId = 4;
        public const int BitRate = 32;
        public const int BitsPerRawSample = 44;
    }

    public static class Layout
    {
        public const int Order = 0;
        public const int Channels = 4;
        public const int Mask = 8;
        public const int NativeOrder = 1;
    }

    public static class Frame
    {
        public const int ExtendedData = 96;
        public const int SampleCount = 112;
        public const int Format = 116;
        public const int Pts = 136;
        public const int SampleRate = 208;
        public const int ChannelLayout = 448;
    }

    public static class Packet
    {
        public const int Data = 24;
        public const int Size = 32;
        public const int StreamIndex = 36;
        public const int Duration = 64;
    }

    public static class CodecContext
    {
        public const int ExtraData = 88;
        public const int ExtraDataSize = 96;
        public const int TimeBase = 100;
        public const int SampleRate = 352;
        public const int SampleFormat = 360;
        public const int FrameSize = 364;
        public const int BitsPerRawSample = 628;
        public const int ChannelLayout = 920;
        public const int InitialPadding = 708;
        public const int PacketTimeBase = 724;
    }

    public static class Codec
    {
        public const int Name = 0;
        public const int SampleFormats = 56;
    }

    public static class IoContext
    {
        public const int Buffer = 8;
    }
}

/// <summary>Sample formats of libavutil (AVSampleFormat).</summary>
internal enum AvSampleFormat
{
    U8 = 0,
    S16 = 1,
    S32 = 2,
    Float = 3,
    Double = 4,
    U8Planar = 5,
    S16Planar = 6,
    S32Planar = 7,
    FloatPlanar = 8,
    DoublePlanar = 9,
    S64 = 10,
    S64Planar = 11,
}

[StructLayout(LayoutKind.Sequential)]
internal struct AvRational
{
    public int Numerator;
    public int Denominator;
}
