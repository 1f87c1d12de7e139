namespace Wergamon.Core.Formats.Mp3;

/// <summary>The four bytes that start every frame of MPEG audio (ISO/IEC 11172-3, 2.4.2.3; 13818-3 for the lower rates).</summary>
internal readonly record struct MpegFrame
{
    public const int HeaderLength = 4;

    private static readonly int[] BitRates1 =
    [
        0, 32, 64, 96, 128, 160, 192, 224, 256, 288, 320, 352, 384, 416, 448,
        0, 32, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320, 384,
        0, 32, 40, 48, 56, 64, 80, 96, 112, 128, 160, 192, 224, 256, 320,
    ];

    private static readonly int[] BitRates2 =
    [
        0, 32, 48, 56, 64, 80, 96, 112, 128, 144, 160, 176, 192, 224, 256,
        0, 8, 16, 24, 32, 40, 48, 56, 64, 80, 96, 112, 128, 144, 160,
    ];

    private static readonly int[] Rates = [44_100, 48_000, 32_000];

    private readonly uint _header;

    private MpegFrame(uint header) => _header = header;

    /// <summary>Null where the bytes are no header.</summary>
    public static MpegFrame? Read(ReadOnlySpan<byte> bytes)
    {
        if (bytes.Length < HeaderLength || bytes[0] != 0xFF || bytes[1] < 0xE0)
            return null;
        uint header = (uint)(bytes[0] << 24 | bytes[1] << 16 | bytes[2] << 8 | bytes[3]);
        bool reserved = (header >> 19 & 3) == 1 || (header >> 17 & 3) == 0 || (header >> 12 & 15) == 15 || (header >> 10 & 3) == 3
            || (header & 3) == 2;
        return reserved ? null : new MpegFrame(header);
    }

    /// <summary>1, 2 or 3.</summary>
    public int Layer => 4 - (int)(_header >> 17 & 3);

    public bool IsMpeg1 => (_header >> 19 & 3) == 3;

    /// <summary>Half and a quarter of the rates of MPEG-1; the quarter is common practice, not in the standard.</summary>
    public int Rate => Rates[_header >> 10 & 3] >> (int)((_header >> 19 & 3) switch { 3 => 0, 2 => 1, _ => 2 });

    public int Channels => (_header >> 6 & 3) == 3 ? 1 : 2;

    public int SamplesPerFrame => Layer switch { 1 => 384, 2 => 1152, _ => IsMpeg1 ? 1152 : 576 };

    /// <summary>Free format: the header does not give the length of the frame.</summary>
    public bool IsFreeFormat => (_header >> 12 & 15) == 0;

    public int KilobitsPerSecond => IsMpeg1
        ? BitRates1[(Layer - 1) * 15 + (int)(_header >> 12 & 15)]
        : BitRates2[(Layer == 1 ? 0 : 15) + (int)(_header >> 12 & 15)];

    /// <summary>Bytes of padding: a slot.</summary>
    public int Padding => (_header >> 9 & 1) == 0 ? 0 : Layer == 1 ? 4 : 1;

    /// <summary>Bytes from this header to the next; 0 for free format.</summary>
    public int Length => IsFreeFormat ? 0
        : Layer == 1 ? 12_000 * KilobitsPerSecond / Rate * 4 + Padding
        : SamplesPerFrame * 125 * KilobitsPerSecond / Rate + Padding;

    /// <summary>Offset of the marker of an info frame: after header and side information (2.4.1.7).</summary>
    public int InfoOffset => HeaderLength + (IsMpeg1 ? Channels == 1 ? 17 : 32 : Channels == 1 ? 9 : 17);

    /// <summary>The same version, layer, rate and mono or not: what frames of one stream share.</summary>
    public bool IsLike(MpegFrame other) => ((_header ^ other._header) & 0xFFFE_0C00) == 0 && Channels == other.Channels;
}
