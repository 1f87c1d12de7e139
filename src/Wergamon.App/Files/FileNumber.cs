using System.Collections.Concurrent;

namespace Wergamon.App.Files;

/// <summary>
/// The number that a file system gives a file (inode). It stays when the file is renamed, and differs
/// when another file takes its path, even one of the same size and time.
/// </summary>
internal static class FileNumber
{
    /// <summary>No file number, or none that is stable.</summary>
    public const long Unknown = 0;

    /// <summary>File systems with stable file numbers. FAT and network shares assign new ones at every mount.</summary>
    private static readonly HashSet<string> Lasting = [
        "ext2", "ext3", "ext4", "xfs", "btrfs", "zfs", "f2fs", "jfs", "bcachefs", "ntfs3", "tmpfs", "overlay", "overlayfs", "nfs", "nfs4"
    ];

    private static readonly ConcurrentDictionary<(uint, uint), bool> LastingDevices = new();

    /// <summary>The number of a file; <see cref="Unknown"/> if its file system has no stable ones.</summary>
    public static long Of(string path, FileLook look) => Lasts(path, look.Device) ? unchecked((long)look.Number) : Unknown;

    /// <summary>Whether two paths are on one file system, so that a file can be moved between them in one step.</summary>
    public static bool IsSameDevice(string path, string other) =>
        PlainFile.Look(path) is { } one && PlainFile.Look(other) is { } two && one.Device == two.Device;

    private static bool Lasts(string path, (uint, uint) device)
    {
        if (LastingDevices.TryGetValue(device, out bool known))
            return known;
        return FreeSpace.FileSystemAt(path) is { } kind && (LastingDevices[device] = Lasting.Contains(kind));
    }
}
