using System.Text;
using Wergamon.Core.Bytes;

namespace Wergamon.Core.Naming;

/// <summary>
/// The path of a file as a browser sends it with its folder. Its names stay what they are, in Unicode NFC; a path that
/// could leave the folder it is meant for is refused, not repaired.
/// </summary>
public static class UploadPath
{
    /// <summary>Maximum folder depth, more than any music needs.</summary>
    private const int MaxParts = 32;

    private static readonly HashSet<string> Companions = new(StringComparer.OrdinalIgnoreCase)
    {
        ".jpg", ".jpeg", ".png", ".gif", ".webp", ".cue", ".log", ".m3u", ".m3u8", ".xspf", ".txt", ".nfo", ".pdf",
    };

    /// <summary>Whether a file goes with music: a picture, a cue sheet, a playlist, a text.</summary>
    public static bool IsCompanion(string path) => Companions.Contains(Path.GetExtension(path));

    /// <param name="path">Parts between '/'.</param>
    /// <returns>The path with its parts in NFC, or the reason for the person why it is refused.</returns>
    public static (string? Path, string? Refusal) Check(string path)
    {
        // A name that had to be made well formed is not the name of the file.
        if (path.Length == 0 || path.Any(char.IsControl) || !WellFormedText.IsWellFormed(path)
            || path.Contains('\uFFFD', StringComparison.Ordinal))
            return (null, "Its name cannot be used here.");
        var parts = WellFormedText.Normalize(path, NormalizationForm.FormC).Split('/');
        if (parts.Length > MaxParts)
            return (null, "It is in too many folders.");
        if (parts.Any(part => part is "" or "." or ".."))
            return (null, "Its name cannot be used here.");
        if (parts.Any(part => part.StartsWith('.')))
            return (null, "Hidden files are not uploaded.");
        if (parts.Any(part => Encoding.UTF8.GetByteCount(part) > SafeFileName.MaxBytes))
            return (null, "Its name is too long.");
        return (string.Join('/', parts), null);
    }
}
