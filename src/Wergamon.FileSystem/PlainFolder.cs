using System.Globalization;
using System.IO.Enumeration;
using Microsoft.Win32.SafeHandles;

namespace Wergamon.FileSystem;

/// <summary>The only way to folders of the person, by the rules of <see cref="PlainFile"/>.</summary>
public static class PlainFolder
{
    /// <summary>Deeper trees are not removed: no music is that deep.</summary>
    private const int MaxDepth = 100;

    /// <summary>True for a folder that no link leads to.</summary>
    public static bool Exists(string path) => PlainFile.Look(path) is { IsFolder: true };

    /// <summary>Makes a folder and those above it that are missing. Nothing is made behind a link.</summary>
    public static void Create(string path)
    {
        path = Path.TrimEndingDirectorySeparator(path);
        using (var there = TryOpen(path, out int error))
        {
            if (there is not null)
                return;
            if (error != Libc.NotFound)
                throw FileError.From(error, path);
        }

        Create(PlainFile.Parent(path));
        using var parent = Open(PlainFile.Parent(path));
        int made = Libc.MakeFolder(parent, Path.GetFileName(path));
        if (made is not (0 or Libc.Exists))
            throw FileError.From(made, path);
        if (made == Libc.Exists && !Exists(path))
            throw FileError.From(Libc.TooManyLinks, path);
    }

    /// <summary>Removes an empty folder.</summary>
    /// <exception cref="IOException">It is not empty, or the system refuses.</exception>
    public static void Remove(string path)
    {
        path = Path.TrimEndingDirectorySeparator(path);
        using var parent = TryOpen(PlainFile.Parent(path), out int error);
        error = parent is null ? error : Libc.Remove(parent, Path.GetFileName(path), isFolder: true);
        if (error is not (0 or Libc.NotFound))
            throw FileError.From(error, path);
    }

    /// <summary>
    /// Removes a folder with all that is in it; links are removed, not their targets. Nothing happens if there is no folder.
    /// </summary>
    public static void RemoveTree(string path)
    {
        path = Path.TrimEndingDirectorySeparator(path);
        using (var folder = TryOpen(path, out int error))
        {
            if (folder is null && error == Libc.NotFound)
                return;
            RemoveContents(folder ?? throw FileError.From(error, path), path, 0);
        }

        Remove(path);
    }

    /// <summary>
    /// The files in a folder, and in those below it if requested, as whole paths. Links and unreadable folders are skipped.
    /// </summary>
    /// <param name="pattern">As in "*.cue", whatever the case.</param>
    /// <param name="isDeep">True for the folders below it, too.</param>
    /// <param name="withHidden">True for hidden files, too.</param>
    public static IEnumerable<string> Files(string path, string pattern = "*", bool isDeep = false, bool withHidden = false) =>
        List(path, pattern, isDeep, withHidden, isFolder: false);

    /// <summary>The folders in a folder, as whole paths, without links.</summary>
    public static IEnumerable<string> Folders(string path, bool withHidden = false) =>
        List(path, "*", isDeep: false, withHidden, isFolder: true);

    /// <summary>Everything in a folder, as whole paths, links and hidden files included.</summary>
    public static IReadOnlyList<string> Entries(string path)
    {
        using var folder = Open(path, isListed: true);
        return [.. Directory.EnumerateFileSystemEntries(AddressOf(folder)).Select(entry => Path.Combine(path, Path.GetFileName(entry)))];
    }

    public static void SetModified(string path, DateTime utc)
    {
        using var folder = Open(path, isListed: true);
        File.SetLastWriteTimeUtc(folder, utc);
    }

    /// <summary>True for a folder without anything in it, links and hidden files included.</summary>
    public static bool IsEmpty(string path)
    {
        using var folder = Open(path, isListed: true);
        return !Directory.EnumerateFileSystemEntries(AddressOf(folder)).Any();
    }

    internal static SafeFileHandle Open(string path, bool isListed = false)
    {
        PlainFile.Require(path);
        return TryOpen(path, out int error, isListed)
            ?? throw (error == Libc.NotFound ? new DirectoryNotFoundException($"There is no folder {path}.") : FileError.From(error, path));
    }

    internal static SafeFileHandle? TryOpen(string path, out int error, bool isListed = false) =>
        Libc.Open(path, (isListed ? Libc.ReadOnly : Libc.PathOnly) | Libc.FolderOnly, 0, out error);

    private static IEnumerable<string> List(string path, string pattern, bool isDeep, bool withHidden, bool isFolder)
    {
        using var folder = Open(path, isListed: true);
        var address = AddressOf(folder);
        var options = new EnumerationOptions
        {
            RecurseSubdirectories = isDeep,
            IgnoreInaccessible = true,
            AttributesToSkip = FileAttributes.ReparsePoint | (withHidden ? 0 : FileAttributes.Hidden),
        };
        var found = new FileSystemEnumerable<string>(address, (ref FileSystemEntry entry) => entry.ToFullPath(), options)
        {
            ShouldIncludePredicate = (ref FileSystemEntry entry) => entry.IsDirectory == isFolder
                && FileSystemName.MatchesSimpleExpression(pattern, entry.FileName, ignoreCase: true),
        };
        foreach (var entry in found)
            yield return Path.Combine(path, entry[(address.Length + 1)..]);
    }

    /// <summary>An address of the open folder itself, whatever is at its path by now (proc(5), /proc/self/fd).</summary>
    private static string AddressOf(SafeFileHandle folder) =>
        string.Create(CultureInfo.InvariantCulture, $"/proc/self/fd/{folder.DangerousGetHandle()}");

    private static void RemoveContents(SafeFileHandle folder, string path, int depth)
    {
        if (depth == MaxDepth)
            throw new IOException($"{path} is too deep to be removed.");
        // Opened for listing from the handle itself.
        using var listed = Libc.OpenIn(folder, ".", Libc.ReadOnly | Libc.FolderOnly, 0, out int error) ?? throw FileError.From(error, path);
        foreach (var name in Directory.EnumerateFileSystemEntries(AddressOf(listed)).Select(entry => Path.GetFileName(entry)!).ToList())
        {
            using (var inner = Libc.OpenIn(folder, name, Libc.PathOnly | Libc.FolderOnly, 0, out error))
            {
                if (inner is not null)
                    RemoveContents(inner, Path.Combine(path, name), depth + 1);
                error = Libc.Remove(folder, name, isFolder: inner is not null);
            }

            if (error is not (0 or Libc.NotFound))
                throw FileError.From(error, Path.Combine(path, name));
        }
    }
}
