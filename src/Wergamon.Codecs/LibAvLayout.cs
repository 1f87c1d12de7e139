namespace Wergamon.Codecs;

/// <summary>
/// Layout of the libav structures of Debian 12 (libavcodec 59, libavformat 59, libavutil 57) and Debian 13 (61, 61, 59) on 64-bit
/// little-endian Linux, as far as used here: offsets in bytes from the start of each structure. Where the releases differ, both
/// are given, and the installed one is used. Nothing else in the project knows them.
/// </summary>
internal static class LibAvLayout
{
    private static int Of(int debian12, int debian13) => LibAvLibraries.Column == 0 ? debian12 : debian13;

    public static class FormatContext
    {
        public const int InputFormat = 8;
        public const int Pb = 32;
        public const int StreamCount = 44;
        public const int Streams = 48;
        public static readonly int Duration = Of(72, 104);
        public static readonly int BitRate = Of(80, 112);
    }

    public static class Stream
    {
        public static readonly int TimeBase = Of(16, 32);
        public static readonly int Duration = Of(32, 48);
        public static readonly int Metadata = Of(64, 80);
        public static readonly int CodecParameters = Of(208, 16);
    }

    public static class InputFormat
    {
        public const int Name = 0;
    }

    public static class DictionaryEntry
    {
        public const int Value = 8;
    }

    public static class CodecParameters
    {
        public const int CodecType = 0;
        public const int CodecId = 4;
        public const int ExtraData = 16;
        public const int ExtraDataSize = 24;
        public static readonly int BitRate = Of(32, 48);
        public static readonly int BitsPerRawSample = Of(44, 60);
        public static readonly int SampleRate = Of(116, 152);
        public static readonly int ChannelLayout = Of(144, 128);
        public static readonly int FrameSize = Of(124, 160);
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
        public static readonly int SampleRate = Of(208, 192);
        public static readonly int ChannelLayout = Of(448, 408);
    }

    public static class Packet
    {
        public const int Data = 24;
        public const int Size = 32;
        public const int StreamIndex = 36;
        public const int Flags = 40;
        public const int Duration = 64;
    }

    public static class CodecContext
    {
        public static readonly int ExtraData = Of(88, 72);
        public static readonly int ExtraDataSize = Of(96, 80);
        public static readonly int TimeBase = Of(100, 84);
        public static readonly int SampleRate = Of(352, 344);
        public static readonly int SampleFormat = Of(360, 348);
        public static readonly int FrameSize = Of(364, 376);
        public static readonly int BitsPerRawSample = Of(628, 652);
        public static readonly int ChannelLayout = Of(920, 352);
        public static readonly int InitialPadding = Of(708, 396);
        public static readonly int PacketTimeBase = Of(724, 92);
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
