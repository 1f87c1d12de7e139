using System.Text;

namespace Wergamon.Core.Tags;

/// <summary>Text in fields that state no encoding: UTF-8 where it is valid, Latin-1 otherwise; ends at the first zero.</summary>
internal static class LooseText
{
    private static readonly UTF8Encoding StrictUtf8 = new(encoderShouldEmitUTF8Identifier: false, throwOnInvalidBytes: true);

    public static string Read(ReadOnlySpan<byte> bytes)
    {
        int end = bytes.IndexOf((byte)0);
        if (end >= 0)
            bytes = bytes[..end];
        try
        {
            return StrictUtf8.GetString(bytes).Trim();
        }
        catch (DecoderFallbackException)
        {
            return Encoding.Latin1.GetString(bytes).Trim();
        }
    }
}
