using System.Buffers;
using System.Text;

namespace Wergamon.Core.Bytes;

/// <summary>
/// The one door for text from files, devices, names and requests. Behind it nothing that normalises, encodes, compares or writes XML
/// throws: no lone surrogates (Unicode 16, 3.9 D75), no noncharacters (23.7), no control characters but tab and line ends.
/// </summary>
public static class WellFormedText
{
    private const char Replacement = '\uFFFD';

    /// <summary>Characters that may have to be replaced. Complete surrogate pairs are among them, and are kept.</summary>
    private static readonly SearchValues<char> Suspects = SearchValues.Create(
    [
        .. Enumerable.Range(0, 0x20).Where(IsControl).Select(code => (char)code),
        '\x7F',
        .. Enumerable.Range(0xD800, 0x800).Select(code => (char)code),
        .. Enumerable.Range(0xFDD0, 0x20).Select(code => (char)code),
        '\uFFFE',
        '\uFFFF',
    ]);

    /// <summary>
    /// The text with U+FFFD for lone surrogates and noncharacters, and without control characters; the same instance where it is well
    /// formed.
    /// </summary>
    public static string From(string text) => FirstFault(text) is >= 0 and var fault ? Mend(text, fault) : text;

    /// <summary>The same, at most so long, in UTF-16 units; a text that is cut ends with an ellipsis and never with half a pair.</summary>
    public static string From(string text, int maxLength) => From(text.Length > maxLength ? Cut(text, maxLength) : text);

    /// <summary>Cuts a text that is too long, so that it ends with an ellipsis and is no longer than the limit.</summary>
    public static string Cut(string text, int maxLength)
    {
        if (text.Length <= maxLength)
            return text;
        int end = maxLength - 1;
        return (end > 0 && char.IsHighSurrogate(text[end - 1]) ? text[..(end - 1)] : text[..end]).TrimEnd() + "…";
    }

    /// <summary>What a person typed as one line without blanks around it, at most so long.</summary>
    public static string Line(string? typed, int maxLength)
    {
        var line = (typed ?? "").ReplaceLineEndings(" ").Trim();
        return line.Length <= maxLength ? line : line[..(char.IsHighSurrogate(line[maxLength - 1]) ? maxLength - 1 : maxLength)].TrimEnd();
    }

    /// <summary>True where <see cref="From(string)"/> changes nothing.</summary>
    public static bool IsWellFormed(string text) => FirstFault(text) < 0;

    /// <summary>
    /// A normal form of any text at all; <see cref="string.Normalize(NormalizationForm)"/> throws over text that is not well formed.
    /// </summary>
    public static string Normalize(string text, NormalizationForm form) => From(text).Normalize(form);

    private static int FirstFault(string text)
    {
        int at = text.AsSpan().IndexOfAny(Suspects);
        while (at >= 0 && at < text.Length)
        {
            if (Rune.DecodeFromUtf16(text.AsSpan(at), out var rune, out int length) != OperationStatus.Done || IsControl(rune.Value)
                || IsNoncharacter(rune.Value))
                return at;
            at += length;
        }

        return -1;
    }

    private static string Mend(string text, int from)
    {
        var mended = new StringBuilder(text.Length).Append(text, 0, from);
        for (int at = from, length; at < text.Length; at += length)
        {
            bool isWhole = Rune.DecodeFromUtf16(text.AsSpan(at), out var rune, out length) == OperationStatus.Done;
            if (!isWhole || IsNoncharacter(rune.Value))
                mended.Append(Replacement);
            else if (!IsControl(rune.Value))
                mended.Append(text, at, length);
        }

        return mended.ToString();
    }

    private static bool IsNoncharacter(int code) => (code & 0xFFFE) == 0xFFFE || code is >= 0xFDD0 and <= 0xFDEF;

    private static bool IsControl(int code) => code is < ' ' and not ('\t' or '\n' or '\r') or 0x7F;
}
