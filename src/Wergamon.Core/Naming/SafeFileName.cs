using System.Globalization;
using System.Text;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Naming;

/// <summary>
/// Turns any text into a file or folder name that common file systems accept: Unicode NFC, no characters that FAT, NTFS or
/// POSIX reserve, no reserved device name, no leading dot, no trailing dot or blank, at most 255 bytes of UTF-8.
/// </summary>
public static class SafeFileName
{
    public const int MaxBytes = 255;

    /// <summary>Reserved for "(2)" after a taken name, and for the hidden temporary name.</summary>
    private const int Reserve = 40;

    private static readonly Dictionary<char, char> Replacements = new()
    {
        ['/'] = '-',
        ['\\'] = '-',
        ['|'] = '-',
        [':'] = '-',
        ['*'] = '+',
        ['?'] = ' ',
        ['"'] = '\'',
        ['<'] = '(',
        ['>'] = ')',
    };

    private static readonly HashSet<string> DeviceNames = new(StringComparer.OrdinalIgnoreCase)
    {
        "CON", "PRN", "AUX", "NUL",
        "COM1", "COM2", "COM3", "COM4", "COM5", "COM6", "COM7", "COM8", "COM9",
        "LPT1", "LPT2", "LPT3", "LPT4", "LPT5", "LPT6", "LPT7", "LPT8", "LPT9",
    };

    /// <param name="text">What the name should say.</param>
    /// <param name="extension">Kept whole behind the name, with its dot; empty for a folder.</param>
    /// <param name="instead">Used when nothing of the text is left.</param>
    /// <param name="limits">Null for those that common file systems share.</param>
    public static string From(string text, string extension = "", string instead = "unnamed", NameLimits? limits = null)
    {
        limits ??= NameLimits.Common;
        if (IsPlain(text, extension, limits))
            return text + extension;
        var name = new StringBuilder();
        foreach (var rune in text.EnumerateRunes())
        {
            if (rune == Rune.ReplacementChar
                || Rune.GetUnicodeCategory(rune) is UnicodeCategory.Control or UnicodeCategory.PrivateUse
                    or UnicodeCategory.OtherNotAssigned or UnicodeCategory.LineSeparator or UnicodeCategory.ParagraphSeparator)
                name.Append(' ');
            else if (rune.IsBmp && limits.Refused.Contains((char)rune.Value))
                name.Append(' ');
            else if (rune.IsBmp && Replacements.TryGetValue((char)rune.Value, out char other))
                name.Append(other);
            else
                name.Append(rune);
        }

        var safe = Trim(WellFormedText.Normalize(name.ToString(), NormalizationForm.FormC));
        safe = Trim(
            Cut(
                safe, MaxBytes - Reserve - Encoding.UTF8.GetByteCount(extension),
                Math.Min(MaxBytes - Reserve, limits.MaxCharacters) - extension.Length));
        if (safe.Length == 0)
            safe = instead;
        if (DeviceNames.Contains(safe.Split('.')[0]))
            safe = "_" + safe;
        return safe + extension;
    }

    /// <summary>True for most names: nothing about them has to be changed.</summary>
    private static bool IsPlain(string text, string extension, NameLimits limits)
    {
        if (text.Length == 0 || text.Length + extension.Length > Math.Min(MaxBytes - Reserve, limits.MaxCharacters) || text[0] is '.' or ' '
            || text[^1] is '.' or ' ' || !Ascii.IsValid(extension))
            return false;
        for (int i = 0; i < text.Length; i++)
        {
            if (text[i] is < ' ' or > '~' || text[i] == ' ' && text[i - 1] == ' ' || Replacements.ContainsKey(text[i])
                || limits.Refused.Contains(text[i]))
                return false;
        }

        int dot = text.IndexOf('.', StringComparison.Ordinal);
        return !DeviceNames.Contains(dot < 0 ? text : text[..dot]);
    }

    private static string Trim(string name)
    {
        var joined = string.Join(' ', name.Split(' ', StringSplitOptions.RemoveEmptyEntries));
        return joined.TrimStart('.', ' ').TrimEnd('.', ' ');
    }

    private static string Cut(string text, int maxBytes, int maxCharacters)
    {
        var kept = new StringBuilder();
        int bytes = 0;
        var elements = StringInfo.GetTextElementEnumerator(text);
        while (elements.MoveNext())
        {
            var element = elements.GetTextElement();
            bytes += Encoding.UTF8.GetByteCount(element);
            if (bytes > maxBytes || kept.Length + element.Length > maxCharacters)
                break;
            kept.Append(element);
        }

        return kept.ToString();
    }
}
