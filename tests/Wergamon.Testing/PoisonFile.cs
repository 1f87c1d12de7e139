using System.Buffers.Binary;
using System.Runtime.InteropServices;
using System.Text;
using Wergamon.Core.Audio;
using Wergamon.Core.Formats.Iff;
using Wergamon.Core.Formats.Wav;

namespace Wergamon.Testing;

/// <summary>
/// Sound files whose tags hold what no writer of ours would write: text that is not well formed, numbers beyond any sense, pictures that
/// lie.
/// </summary>
public static class PoisonFile
{
    private const byte Utf16 = 1;

    private static int _written;

    /// <summary>A WAV file of noise with an ID3v2.4 tag of raw frames (id3.org, ID3v2.4 main structure, section 4).</summary>
    public static void Write(string path, params ReadOnlySpan<(string Frame, byte[] Content)> frames)
    {
        var body = new List<byte>();
        foreach (var (frame, content) in frames)
            body.AddRange([.. Encoding.ASCII.GetBytes(frame), .. Syncsafe(content.Length), 0, 0, .. content]);
        byte[] tag = [(byte)'I', (byte)'D', (byte)'3', 4, 0, 0, .. Syncsafe(body.Count), .. body];
        var format = new PcmFormat(SampleRate.AudioDisc, 2, 16);
        using var writer = new WavWriter(File.Create(path), format, tail: [new TailChunk("id3 ", tag)]);
        // Each of another length, so that no two are copies of one track.
        TestSound.Noise(format, 4 * 44_100 + Interlocked.Increment(ref _written)).CopyTo(writer);
    }

    /// <summary>The content of a text frame, unit by unit as given, however broken.</summary>
    public static byte[] Text(string text) => [Utf16, 0xFF, 0xFE, .. MemoryMarshal.AsBytes(text.AsSpan())];

    /// <summary>The content of a picture frame.</summary>
    public static byte[] Picture(string description, byte[] data) =>
        [
            Utf16, .. "image/png\0"u8, 3, 0xFF, 0xFE,
            .. MemoryMarshal.AsBytes(description.Replace("\0", "", StringComparison.Ordinal).AsSpan()), 0, 0, .. data
        ];

    /// <summary>The head of a PNG that claims a size (PNG, third edition, 11.2.1) and holds no picture.</summary>
    public static byte[] Png(uint width, uint height)
    {
        byte[] head = [0x89, 0x50, 0x4E, 0x47, 0x0D, 0x0A, 0x1A, 0x0A, 0, 0, 0, 13, .. "IHDR"u8, .. new byte[13], 0, 0, 0, 0];
        BinaryPrimitives.WriteUInt32BigEndian(head.AsSpan(16), width);
        BinaryPrimitives.WriteUInt32BigEndian(head.AsSpan(20), height);
        return head;
    }

    private static byte[] Syncsafe(int length) =>
        [(byte)(length >> 21 & 0x7F), (byte)(length >> 14 & 0x7F), (byte)(length >> 7 & 0x7F), (byte)(length & 0x7F)];
}
