namespace Wergamon.Core.Naming;

/// <summary>The limits of a file system that music on a stick can meet.</summary>
/// <param name="Names">How long names may be.</param>
/// <param name="IgnoresCase">True where names that differ only in case are one name.</param>
/// <param name="MaxFileBytes">The longest file.</param>
public sealed record FileSystemRules(string Name, NameLimits Names, bool IgnoresCase, long MaxFileBytes)
{
    private const int CharactersPerEntry = 13, BytesPerEntry = 32;

    /// <summary>The largest folder, in directory entries; null for one that no music fills.</summary>
    public int? MaxFolderEntries { get; init; }

    /// <summary>
    /// Files of at most 4 GB less a byte, folders of at most 2 MB (FAT32 File System Specification 1.03, Microsoft 2000: file sizes of 32
    /// bits; directories of 65,536 entries of 32 bytes).
    /// </summary>
    public static FileSystemRules Fat32 { get; } = new(
        "FAT32", NameLimits.Common, IgnoresCase: true, uint.MaxValue)
    { MaxFolderEntries = (2 << 20) / BytesPerEntry };

    /// <summary>
    /// Names of 255 units that ignore case, files of 64 bits (exFAT File System Specification, Microsoft 2019, 7.4 and 7.6).
    /// </summary>
    public static FileSystemRules ExFat { get; } = new("exFAT", NameLimits.Common, IgnoresCase: true, long.MaxValue);

    /// <summary>
    /// File systems of Linux and macOS; names that differ only in case still count as one, since a stick may be read elsewhere.
    /// </summary>
    public static FileSystemRules Other { get; } = new("another file system", NameLimits.Common, IgnoresCase: true, long.MaxValue);

    /// <summary>
    /// Directory entries that a name takes: one, and one more for each thirteen characters of a long name (FAT32 specification, long
    /// directory entries).
    /// </summary>
    public static int EntriesOf(string name) => 1 + (name.Length + CharactersPerEntry - 1) / CharactersPerEntry;

    /// <summary>Why files cannot be stored there, for the person; null when they can.</summary>
    /// <param name="files">Paths with '/' between their parts, and lengths.</param>
    public string? ProblemOf(IReadOnlyCollection<(string Path, long Bytes)> files)
    {
        if (files.FirstOrDefault(file => file.Bytes > MaxFileBytes) is { Path: { } large })
            return $"{large} is longer than a file on {Name} can be (4 GB).";
        if (MaxFolderEntries is not { } most)
            return null;
        var full = files.GroupBy(file => file.Path[..(file.Path.LastIndexOf('/') + 1)])
            .FirstOrDefault(folder => folder.Sum(file => EntriesOf(file.Path[(file.Path.LastIndexOf('/') + 1)..])) > most);
        return full is null
            ? null
            : $"The folder {(full.Key.Length == 0 ? "at the top" : full.Key.TrimEnd('/'))} gets more files than {Name} can hold in one. "
                + "Spread them over folders.";
    }
}
