namespace Wergamon.Core.Formats.Opus;

/// <summary>What the first bytes of a packet tell (RFC 6716, section 3).</summary>
internal static class OpusPacket
{
    /// <summary>Frames of 48 kHz by configuration: SILK 10 to 60 ms, hybrid 10 and 20 ms, CELT 2.5 to 20 ms (table 2).</summary>
    private static readonly int[] SilkFrames = [480, 960, 1920, 2880];
    private static readonly int[] HybridFrames = [480, 960];
    private static readonly int[] CeltFrames = [120, 240, 480, 960];

    /// <summary>Samples of one channel at 48 kHz that a packet decodes to; 0 for an empty one.</summary>
    public static int FramesOf(ReadOnlySpan<byte> packet)
    {
        if (packet.IsEmpty)
            return 0;
        int configuration = packet[0] >> 3;
        int frame = configuration switch
        {
            < 12 => SilkFrames[configuration & 3],
            < 16 => HybridFrames[configuration & 1],
            _ => CeltFrames[configuration & 3]
        };
        int count = (packet[0] & 3) switch { 0 => 1, 1 or 2 => 2, _ => packet.Length > 1 ? packet[1] & 0x3F : 0 };
        return frame * count;
    }
}
