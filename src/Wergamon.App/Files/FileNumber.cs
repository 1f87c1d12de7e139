using System.Collections.Concurrent;
using System.Runtime.InteropServices;
using System.Text;

namespace Wergamon.App.Files;

/// <summary>
/// The number under which a file system keeps a file (inode). It goes with the file when that is renamed, and is another one
/// when another file takes its place, even of the same size and time. .NET does not tell it, so the kernel is asked: statx(2).
/// </summary>
internal static class FileNumber
{
    /// <summary>No file number, or none that is stable.</summary>
    public const long Unknown = 0;

    private const int CurrentFolder = -100;
    private const int AsFarAsKnown = 0x4000;
    private const int NoFollow = 0x100;
    private const uint NumberAlone = 0x100, TypeAlone = 1;
    private const int TypeMask = 0xF000, Regular = 0x8000;

    /// <summary>File systems with stable file numbers. FAT and network shares assign new ones at every mount.</summary>
    private static readonly HashSet<string> Lasting = ["ext2", "ext3", "ext4", "xfs", "btrfs", "zfs", "f2fs", "jfs", "bcachefs", "ntfs3", "tmpfs", "overlay", "overlayfs", "nfs", "nfs4"];

    private static readonly ConcurrentDictionary<(uint, uint), bool> LastingDevices = new();

    /// <summary>The number of a file; <see cref="Unknown"/> where it is not there or its file system gives none that lasts.</summary>
    public static long Of(string path)
    {
        if (!OperatingSystem.IsLinux() || statx(CurrentFolder, Encoding.UTF8.GetBytes(path + '\0'), AsFarAsKnown, NumberAlone, out var facts) != 0)
            return Unknown;
        return Lasts(path, (facts.DeviceMajor, facts.DeviceMinor)) ? unchecked((long)facts.Number) : Unknown;
    }

    /// <summary>Whether a path is a file itself, and no link, folder, device or pipe. Nothing is opened to find out.</summary>
    public static bool IsRegularFile(string path) => OperatingSystem.IsLinux()
        ? statx(CurrentFolder, Encoding.UTF8.GetBytes(path + '\0'), NoFollow, TypeAlone, out var facts) == 0 && (facts.Mode & TypeMask) == Regular
        : File.Exists(path) && new FileInfo(path).LinkTarget is null;

    /// <summary>Whether two paths lie on one file system, so that a file can go from one to the other in one step.</summary>
    public static bool IsSameDevice(string path, string other) =>
        OperatingSystem.IsLinux()
        && statx(CurrentFolder, Encoding.UTF8.GetBytes(path + '\0'), AsFarAsKnown, NumberAlone, out var one) == 0
        && statx(CurrentFolder, Encoding.UTF8.GetBytes(other + '\0'), AsFarAsKnown, NumberAlone, out var two) == 0
        && (one.DeviceMajor, one.DeviceMinor) == (two.DeviceMajor, two.DeviceMinor);

    private static bool Lasts(string path, (uint, uint) device)
    {
        if (LastingDevices.TryGetValue(device, out bool known))
            return known;
        try
        {
            return LastingDevices[device] = Lasting.Contains(new DriveInfo(path).DriveFormat);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            // Taken away this very moment.
            return false;
        }
    }

    [DllImport("libc", SetLastError = false)]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
#pragma warning disable IDE1006 // The name is that of the C library.
    private static extern int statx(int folder, byte[] path, int flags, uint wanted, out FileFacts facts);
#pragma warning restore IDE1006

    /// <summary>struct statx of the Linux kernel, which is the same on all machines; what is not needed is left out.</summary>
    [StructLayout(LayoutKind.Explicit, Size = 256)]
    private readonly struct FileFacts
    {
        [FieldOffset(28)]
        public readonly ushort Mode;

        [FieldOffset(32)]
        public readonly ulong Number;

        [FieldOffset(136)]
        public readonly uint DeviceMajor;

        [FieldOffset(140)]
        public readonly uint DeviceMinor;
    }
}
