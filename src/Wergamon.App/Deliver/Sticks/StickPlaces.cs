using Wergamon.App.Files;
using Wergamon.Core.Sticks;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>Sticks as the file system shows them: which one lies at a place, and what is on it.</summary>
public sealed class StickPlaces(AllowedPaths allowed, Placement placement)
{
    private const int MaxNeighbours = 200;

    private static readonly EnumerationOptions AllFiles = new() { RecurseSubdirectories = true, AttributesToSkip = FileAttributes.Hidden | FileAttributes.System | FileAttributes.ReparsePoint, IgnoreInaccessible = true };

    /// <summary>The mark of the stick at a place; null where there is none.</summary>
    public static StickMark? MarkAt(string place)
    {
        try
        {
            var path = Path.Combine(place, StickMark.FileName);
            return File.Exists(path) ? StickMark.Read(File.ReadAllBytes(path)) : null;
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    /// <summary>Where a stick is now: at its last place, or beside it under another name; null when it is away.</summary>
    public string? Find(StickSettings stick)
    {
        if (MarkAt(stick.Place)?.Stick == stick.Mark)
            return stick.Place;
        if (Path.GetDirectoryName(stick.Place) is not { } around || !Directory.Exists(around))
            return null;
        try
        {
            return Directory.EnumerateDirectories(around).Take(MaxNeighbours).FirstOrDefault(folder => MarkAt(folder)?.Stick == stick.Mark && allowed.CheckOutputFolder(folder).Path == folder);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    /// <summary>All files on a stick but hidden ones that are not ours, by path with '/' between its parts.</summary>
    public static Dictionary<string, StickStamp> FilesAt(string place)
    {
        var files = new Dictionary<string, StickStamp>();
        foreach (var file in new DirectoryInfo(place).EnumerateFiles("*", AllFiles))
            files[Path.GetRelativePath(place, file.FullName)] = StampOf(file);
        foreach (var path in Directory.EnumerateFiles(place, StickItems.AsidePrefix + "*"))
            files[Path.GetFileName(path)] = StampOf(new FileInfo(path));
        return files;
    }

    /// <summary>Null where there is no file.</summary>
    public static StickStamp? StampAt(string place, string path) => new FileInfo(Path.Combine(place, path)) is { Exists: true } file ? StampOf(file) : null;

    public void WriteMark(string place, StickMark mark) => placement.WriteWhole(Path.Combine(place, StickMark.FileName), mark.ToBytes());

    /// <summary>Removes what was cut off while it was being written, and files that went aside and were replaced.</summary>
    /// <param name="known">Paths of files that count.</param>
    internal static void RemoveStrays(string place, IReadOnlySet<string> known)
    {
        foreach (var path in Directory.EnumerateFiles(place, Placement.TemporaryPrefix + "*").Where(path => Path.GetFileName(path) != StickMark.FileName && !known.Contains(Path.GetFileName(path))).ToList())
            Placement.Remove(path);
    }

    /// <summary>Has everything written that waits in memory, so that the stick can be unplugged.</summary>
    internal static void Flush(string place)
    {
        using var mark = File.OpenHandle(Path.Combine(place, StickMark.FileName));
        DiskCache.Flush(mark);
    }

    private static StickStamp StampOf(FileInfo file) => new(file.Length, new DateTimeOffset(file.LastWriteTimeUtc).ToUnixTimeMilliseconds());
}
