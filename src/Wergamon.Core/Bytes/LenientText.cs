using System.Text;

namespace Wergamon.Core.Bytes;

/// <summary>Text that states no encoding, or a wrong one: UTF-8 where it is valid, Latin-1 otherwise.</summary>
internal static class LenientText
{
    private static readonly UTF8Encoding StrictUtf8 = new(encoderShouldEmitUTF8Identifier: false, throwOnInvalidBytes: true);

    /// <summary>The text up to the first zero, without blanks around it.</summary>
    public static string Read(ReadOnlySpan<byte> bytes)
    {
        int end = bytes.IndexOf((byte)0);
        return ReadAll(end >= 0 ? bytes[..end] : bytes).Trim();
    }

    public static string ReadAll(ReadOnlySpan<byte> bytes)
    {
        try
        {
            return WellFormedText.From(StrictUtf8.GetString(bytes));
        }
        catch (DecoderFallbackException)
        {
            return WellFormedText.From(Encoding.Latin1.GetString(bytes));
        }
    }
}
