using System.Text;

namespace Wergamon.Core.Tags.Tidying;

/// <summary>Text that was decoded in the wrong code page, told by what it would be in the right one.</summary>
public static class CodePages
{
    private static readonly Encoding Western = CodePagesEncodingProvider.Instance.GetEncoding(
        1252, EncoderFallback.ExceptionFallback, DecoderFallback.ExceptionFallback)!;
    private static readonly Encoding Cyrillic = CodePagesEncodingProvider.Instance.GetEncoding(
        1251, EncoderFallback.ExceptionFallback, DecoderFallback.ExceptionFallback)!;
    private static readonly UTF8Encoding StrictUtf8 = new(false, throwOnInvalidBytes: true);

    /// <summary>The text as it was meant; null where nothing seems wrong.</summary>
    public static string? Repair(string text)
    {
        if (!text.Any(c => c >= '\u0080'))
            return null;
        return FromUtf8(text) ?? FromCyrillic(text);
    }

    /// <summary>UTF-8 read as Windows-1252 or Latin-1: bytes that form valid sequences of two and more do so by no accident.</summary>
    private static string? FromUtf8(string text)
    {
        if (BytesOf(text) is not { } bytes)
            return null;
        try
        {
            var meant = StrictUtf8.GetString(bytes);
            return meant != text && !meant.Any(char.IsControl) ? meant : null;
        }
        catch (DecoderFallbackException)
        {
            return null;
        }
    }

    /// <summary>Windows-1251 read as Windows-1252: words made of accented letters only.</summary>
    private static string? FromCyrillic(string text)
    {
        int letters = text.Count(char.IsLetter), accented = text.Count(c => c is >= 'À' and <= 'ÿ');
        const double LeastShare = 0.8;
        const int LeastLetters = 3;
        if (accented < LeastLetters || accented < LeastShare * letters || BytesOf(text) is not { } bytes)
            return null;
        try
        {
            return Cyrillic.GetString(bytes);
        }
        catch (DecoderFallbackException)
        {
            return null;
        }
    }

    private static byte[]? BytesOf(string text)
    {
        if (text.All(c => c <= 'ÿ'))
            return Encoding.Latin1.GetBytes(text);
        try
        {
            return Western.GetBytes(text);
        }
        catch (EncoderFallbackException)
        {
            return null;
        }
    }
}
