using Wergamon.App.Storage;

namespace Wergamon.App.Files;

/// <summary>Either a usable path, or the reason, for the person, why it cannot be used.</summary>
public readonly record struct PathCheck(string? Path, string? Refusal);

/// <summary>Decides which folders of this machine the application may touch. Links are followed before the decision.</summary>
public sealed class AllowedPaths(AppOptions options)
{
    private const int MaxLinks = 40;

    /// <summary>A folder that exists, can be read and is below an allowed base.</summary>
    public PathCheck CheckMusicFolder(string? typed)
    {
        if (Resolve(typed) is not { } path)
            return new PathCheck(null, "Enter the full path of a folder, starting with /.");
        if (!IsAllowed(path))
            return new PathCheck(
                null,
                $"{path} is not below {string.Join(" or ", options.AllowedBases)}. Start Wergamon with --allow to add another place.");
        if (!Directory.Exists(path))
            return new PathCheck(
                null, File.Exists(path) ? $"{path} is a file. A music folder has to be a folder." : $"There is no folder {path}.");
        try
        {
            using var entries = Directory.EnumerateFileSystemEntries(path).GetEnumerator();
            entries.MoveNext();
        }
        catch (UnauthorizedAccessException)
        {
            return new PathCheck(null, $"{path} cannot be read by the account that Wergamon runs under.");
        }

        return new PathCheck(path, null);
    }

    /// <summary>A folder that may be written to; it need not exist yet.</summary>
    public PathCheck CheckOutputFolder(string? typed)
    {
        if (Resolve(typed) is not { } path)
            return new PathCheck(null, "Enter the full path of a folder, starting with /.");
        if (!IsAllowed(path))
            return new PathCheck(
                null,
                $"{path} is not below {string.Join(" or ", options.AllowedBases)}. Start Wergamon with --allow to add another place.");
        return File.Exists(path) ? new PathCheck(null, $"{path} is a file. Choose a folder.") : new PathCheck(path, null);
    }

    /// <summary>
    /// Whether a file may be read now: a file itself, or a link to one, that is below an allowed base. What was a file when it was
    /// scanned may have been exchanged for something else since.
    /// </summary>
    public bool MayRead(string path) => Resolve(path) is { } resolved && IsAllowed(resolved) && PlainFile.Exists(resolved);

    public bool IsAllowed(string resolvedPath) =>
        options.AllowedBases.Append(options.DataFolder)
            .Select(allowed => Resolve(allowed) ?? allowed)
            .Any(allowed => IsBelow(resolvedPath, allowed));

    /// <summary>The path with "..", "~" and all links resolved; null when it is not absolute.</summary>
    public static string? Resolve(string? typed)
    {
        typed = typed?.Trim();
        if (typed is "~" || typed?.StartsWith("~/", StringComparison.Ordinal) == true)
            typed = Environment.GetFolderPath(Environment.SpecialFolder.UserProfile) + typed[1..];
        if (string.IsNullOrEmpty(typed) || !Path.IsPathFullyQualified(typed) || typed.Contains('\0', StringComparison.Ordinal))
            return null;
        int links = 0;
        return Follow(Path.GetFullPath(typed), ref links);
    }

    private static string? Follow(string path, ref int links)
    {
        var resolved = "/";
        foreach (var part in path.Split('/', StringSplitOptions.RemoveEmptyEntries))
        {
            resolved = Path.Combine(resolved, part);
            if (new FileInfo(resolved).LinkTarget is not { } target)
                continue;
            if (++links > MaxLinks || Follow(Path.GetFullPath(target, Path.GetDirectoryName(resolved)!), ref links) is not { } end)
                return null;
            resolved = end;
        }

        return resolved;
    }

    /// <summary>Whether a path is a folder itself, or inside it; neither is resolved.</summary>
    internal static bool IsBelow(string path, string folder) =>
        path == folder || path.StartsWith(folder.TrimEnd('/') + "/", StringComparison.Ordinal);
}
