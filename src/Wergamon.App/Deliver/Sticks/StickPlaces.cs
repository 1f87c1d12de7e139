using Wergamon.App.Files;
using Wergamon.App.Library.Scan;
using Wergamon.Core.Sticks;
using Wergamon.Core.Sync;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>Sticks as the file system shows them: which one is at a path, and what is on it.</summary>
public sealed class StickPlaces(AllowedPaths allowed, Placement placement, MusicFolders folders)
{
    private const int MaxNeighbours = 200;

    /// <summary>The mark of the stick at a place; null where there is none.</summary>
    public static StickMark? MarkAt(string place)
    {
        try
        {
            var path = Path.Combine(place, StickMark.FileName);
            return PlainFile.Exists(path) ? StickMark.Read(PlainFile.ReadAll(path, StickMark.MaxLength)) : null;
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    /// <summary>Where a stick is now: at its last path, or beside it under another name; null when it is not connected.</summary>
    public string? Find(StickSettings stick)
    {
        if (MarkAt(stick.Place)?.Stick == stick.Mark)
            return stick.Place;
        if (Path.GetDirectoryName(stick.Place) is not { } around || !PlainFolder.Exists(around))
            return null;
        try
        {
            return PlainFolder.Folders(around, withHidden: true)
                .Take(MaxNeighbours)
                .FirstOrDefault(
                    folder => MarkAt(folder)?.Stick == stick.Mark && IsItself(folder, stick)
                        && allowed.CheckOutputFolder(folder).Path == folder);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            return null;
        }
    }

    /// <summary>The number of a folder; 0 if its file system has no stable ones.</summary>
    internal static long NumberOf(string folder) =>
        PlainFile.Look(folder) is { IsFolder: true } look ? FileNumber.Of(folder, look) : FileNumber.Unknown;

    /// <summary>
    /// A folder with the mark of a stick is the stick if a separate drive is mounted there, or if it is the same folder under
    /// another name; a copy is neither.
    /// </summary>
    private static bool IsItself(string folder, StickSettings stick) =>
        stick.Number == FileNumber.Unknown || !FileNumber.IsSameDevice(folder, Path.GetDirectoryName(folder)!)
            || NumberOf(folder) is var number && (number == FileNumber.Unknown || number == stick.Number);

    /// <summary>All files on a stick except hidden ones that are not ours, by path with '/' between its parts.</summary>
    public static Dictionary<string, SyncStamp> FilesAt(string place)
    {
        var files = new Dictionary<string, SyncStamp>();
        foreach (var path in PlainFolder.Files(place, isDeep: true)
            .Concat(PlainFolder.Files(place, StickItems.AsidePrefix + "*", withHidden: true)))
        {
            var relative = Path.GetRelativePath(place, path);
            if (StampAt(place, relative) is { } stamp)
                files[relative] = stamp;
        }

        return files;
    }

    /// <summary>Null where there is no file.</summary>
    public static SyncStamp? StampAt(string place, string path) => PlainFile.Look(Path.Combine(place, path)) is { IsRegular: true } look
        ? new SyncStamp(look.Length, new DateTimeOffset(look.ModifiedUtc).ToUnixTimeMilliseconds())
        : null;

    public void WriteMark(string place, StickMark mark) => placement.WriteOwn(Path.Combine(place, StickMark.FileName), mark.ToBytes());

    /// <summary>Flushes everything that is cached, so that the stick can be unplugged.</summary>
    internal static void Flush(string place)
    {
        using var mark = PlainFile.OpenHandle(Path.Combine(place, StickMark.FileName), FileMode.Open, FileAccess.Read);
        DiskCache.Flush(mark);
    }

    /// <summary>Whether a stick can be at a place.</summary>
    public PathCheck Check(string? place)
    {
        var check = allowed.CheckOutputFolder(place);
        if (check.Path is not { } path)
            return check;
        if (!PlainFolder.Exists(path))
            return new PathCheck(null, $"There is no folder {path}. Plug the stick in, or choose another folder.");
        // Files written to the stick must not be added to the library as further copies.
        return folders.List()
            .FirstOrDefault(folder => AllowedPaths.IsBelow(path, folder.Path) || AllowedPaths.IsBelow(folder.Path, path)) is { } music
            ? new PathCheck(null, $"{path} shares files with the music folder {music.Path}. Choose a folder outside of the music folders.")
            : check;
    }
}
