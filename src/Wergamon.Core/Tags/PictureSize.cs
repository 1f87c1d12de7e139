using System.Buffers.Binary;

namespace Wergamon.Core.Tags;

/// <summary>Width and height in pixels, read from the header of a JPEG (ITU-T T.81) or PNG (ISO/IEC 15948) picture.</summary>
public readonly record struct PictureSize(int Width, int Height)
{
    /// <summary>The size, or null when the header is not one of the two or is damaged.</summary>
    public static PictureSize? Of(ReadOnlySpan<byte> data)
    {
        if (data.Length >= 24 && data.StartsWith((ReadOnlySpan<byte>)[0x89, (byte)'P', (byte)'N', (byte)'G']))
            return new PictureSize(BinaryPrimitives.ReadInt32BigEndian(data[16..]), BinaryPrimitives.ReadInt32BigEndian(data[20..]));
        return data.Length >= 4 && data[0] == 0xFF && data[1] == 0xD8 ? OfJpeg(data) : null;
    }

    /// <summary>True for a JPEG in several passes (ITU-T T.81, SOF2), which some players do not show.</summary>
    public static bool IsProgressive(ReadOnlySpan<byte> data)
    {
        for (int at = 2; data.StartsWith((ReadOnlySpan<byte>)[0xFF, 0xD8]) && at + 4 <= data.Length && data[at] == 0xFF;
        at += 2 + BinaryPrimitives.ReadUInt16BigEndian(data[(at + 2)..]))
        {
            if (data[at + 1] is >= 0xC0 and <= 0xC3)
                return data[at + 1] == 0xC2;
        }

        return false;
    }

    private static PictureSize? OfJpeg(ReadOnlySpan<byte> data)
    {
        int at = 2;
        while (at + 9 <= data.Length && data[at] == 0xFF)
        {
            int marker = data[at + 1];
            int length = BinaryPrimitives.ReadUInt16BigEndian(data[(at + 2)..]);
            bool startOfFrame = marker is >= 0xC0 and <= 0xCF and not (0xC4 or 0xC8 or 0xCC);
            if (startOfFrame)
                return new PictureSize(
                    BinaryPrimitives.ReadUInt16BigEndian(data[(at + 7)..]), BinaryPrimitives.ReadUInt16BigEndian(data[(at + 5)..]));
            if (length < 2)
                return null;
            at += 2 + length;
        }

        return null;
    }

    /// <summary>MIME type by the first bytes; null for an unknown kind of picture.</summary>
    public static string? MimeTypeOf(ReadOnlySpan<byte> data) =>
        data.StartsWith((ReadOnlySpan<byte>)[0xFF, 0xD8, 0xFF]) ? "image/jpeg"
        : data.StartsWith((ReadOnlySpan<byte>)[0x89, (byte)'P', (byte)'N', (byte)'G']) ? "image/png"
        : null;
}
