using System.Buffers.Binary;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Formats.Mp3;

/// <summary>
/// The info frame at the start of an MP3, which carries no audio: the number of frames, and how many samples of encoder delay
/// and padding a player has to cut off (common practice, no source: the Xing header with LAME's extension).
/// </summary>
public static class Mp3InfoFrame
{
    /// <summary>The CRC covers this many bytes of the frame and follows the fields it covers.</summary>
    private const int SummedLength = 190;

    /// <summary>Possible offsets of the marker: after the frame header and the side information, whose length varies.</summary>
    private static readonly int[] MarkerOffsets = [36, 21, 13];

    // Offsets from the marker.
    private const int FrameCountAt = 8;
    private const int DelayAt = 141;
    private const int SumAt = 154;
    private const int LengthFromMarker = 156;

    private const int MaxPadding = 0xFFF;

    /// <summary>
    /// Sets the padding that makes the file exactly as long as its source. Encoders that count only what the last frame
    /// holds make it too small when the audio ends in the last frame but one.
    /// </summary>
    /// <param name="stream">Seekable, readable and writable.</param>
    /// <param name="offset">Where the first frame starts.</param>
    /// <param name="soundFrames">Samples of one channel that were encoded.</param>
    /// <returns>False when there is no such frame or the numbers do not fit it; nothing is changed then.</returns>
    public static bool StateLength(Stream stream, long offset, long soundFrames)
    {
        var frame = new byte[Math.Max(SummedLength, MarkerOffsets[0] + LengthFromMarker)];
        stream.Position = offset;
        if (!stream.TryReadWhole(frame) || FindMarker(frame) is not { } marker)
            return false;
        // Bit 3 of the second byte: 1 for MPEG-1 with 1,152 samples a frame, 0 for MPEG-2 with half of it (ISO 13818-3).
        int samplesPerFrame = (frame[1] & 0x08) != 0 ? 1152 : 576;
        long encoded = (long)BinaryPrimitives.ReadUInt32BigEndian(frame.AsSpan(marker + FrameCountAt)) * samplesPerFrame;
        var delayAndPadding = frame.AsSpan(marker + DelayAt, 3);
        int delay = delayAndPadding[0] << 4 | delayAndPadding[1] >> 4;
        long padding = encoded - delay - soundFrames;
        if (padding is < 0 or > MaxPadding)
            return false;

        delayAndPadding[1] = (byte)((delayAndPadding[1] & 0xF0) | (int)padding >> 8);
        delayAndPadding[2] = (byte)padding;
        BinaryPrimitives.WriteUInt16BigEndian(frame.AsSpan(marker + SumAt), Crc16(frame.AsSpan(0, SummedLength)));
        stream.Position = offset + marker;
        stream.Write(frame.AsSpan(marker, LengthFromMarker));
        stream.Position = stream.Length;
        return true;
    }

    private static int? FindMarker(ReadOnlySpan<byte> frame)
    {
        foreach (int at in MarkerOffsets)
        {
            if (frame[at..].StartsWith("Xing"u8) || frame[at..].StartsWith("Info"u8))
                return at;
        }

        return null;
    }

    /// <summary>CRC-16 with the polynomial 8005 hex, bits reflected, start 0 (known as CRC-16/ARC).</summary>
    public static ushort Crc16(ReadOnlySpan<byte> data)
    {
        int crc = 0;
        foreach (byte value in data)
        {
            crc ^= value;
            for (int bit = 0; bit < 8; bit++)
                crc = (crc & 1) != 0 ? crc >> 1 ^ 0xA001 : crc >> 1;
        }

        return (ushort)crc;
    }
}
