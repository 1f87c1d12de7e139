using System.Buffers;
using System.Runtime.InteropServices;
using System.Text;

namespace Wergamon.Core.Tags.Id3v2;

/// <summary>The four text encodings of ID3v2; the numbers are those in the frames.</summary>
public enum Id3v2Encoding : byte
{
    Latin1 = 0,
    Utf16WithMark = 1,
    Utf16BigEndian = 2,
    Utf8 = 3,
}

/// <summary>
/// Strings in ID3v2 frames: encoded, and ended by a zero of the encoding's width (ID3v2.4.0 - Main Structure, section 4).
/// </summary>
internal static class Id3v2Text
{
    private static readonly UnicodeEncoding LittleEndian = new(bigEndian: false, byteOrderMark: false);
    private static readonly UnicodeEncoding BigEndian = new(bigEndian: true, byteOrderMark: false);

    /// <summary>Takes the string up to its terminator off the front; all the rest when there is none.</summary>
    public static string TakeString(ref ReadOnlySpan<byte> data, Id3v2Encoding encoding)
    {
        int width = WidthOf(encoding);
        int end = width == 1 ? data.IndexOf((byte)0) : 2 * MemoryMarshal.Cast<byte, ushort>(data).IndexOf((ushort)0);
        bool ended = end >= 0;
        var text = Decode(ended ? data[..end] : data, encoding);
        data = ended ? data[(end + width)..] : [];
        return text;
    }

    /// <summary>All strings in the data; a terminator after the last adds no empty string.</summary>
    public static List<string> TakeAll(ReadOnlySpan<byte> data, Id3v2Encoding encoding)
    {
        var values = new List<string>();
        while (!data.IsEmpty)
            values.Add(TakeString(ref data, encoding));
        return values;
    }

    public static void Write(IBufferWriter<byte> frame, string text, Id3v2Encoding encoding, bool ended)
    {
        if (encoding == Id3v2Encoding.Utf16WithMark)
            frame.Write<byte>([0xFF, 0xFE]);
        EncodingOf(encoding).GetBytes(text, frame);
        if (ended)
            frame.Write("\0\0"u8[..WidthOf(encoding)]);
    }

    private static int WidthOf(Id3v2Encoding encoding) => encoding is Id3v2Encoding.Utf16WithMark or Id3v2Encoding.Utf16BigEndian ? 2 : 1;

    private static Encoding EncodingOf(Id3v2Encoding encoding) => encoding switch
    {
        Id3v2Encoding.Utf16WithMark => LittleEndian,
        Id3v2Encoding.Utf16BigEndian => BigEndian,
        Id3v2Encoding.Utf8 => Encoding.UTF8,
        _ => Encoding.Latin1,
    };

    private static string Decode(ReadOnlySpan<byte> bytes, Id3v2Encoding encoding)
    {
        if (encoding != Id3v2Encoding.Utf16WithMark)
            return EncodingOf(encoding).GetString(bytes);
        if (bytes.StartsWith((ReadOnlySpan<byte>)[0xFE, 0xFF]))
            return BigEndian.GetString(bytes[2..]);
        return LittleEndian.GetString(bytes.StartsWith((ReadOnlySpan<byte>)[0xFF, 0xFE]) ? bytes[2..] : bytes);
    }
}
