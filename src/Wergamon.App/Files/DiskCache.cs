using System.Runtime.InteropServices;
using Microsoft.Win32.SafeHandles;

namespace Wergamon.App.Files;

/// <summary>What the kernel keeps of files in memory. Where it cannot be told, nothing is done.</summary>
internal static class DiskCache
{
    private const int NotNeeded = 4;

    /// <summary>
    /// Lets go of what is kept of a file whose bytes are on the disk, so that the next reading comes from there: posix_fadvise(2).
    /// </summary>
    public static void Drop(SafeFileHandle file)
    {
        if (OperatingSystem.IsLinux())
            _ = posix_fadvise(file.DangerousGetHandle().ToInt32(), 0, 0, NotNeeded);
    }

    /// <summary>Writes all that is kept of a file system to its disk: syncfs(2).</summary>
    /// <param name="file">Any file on it.</param>
    public static void Flush(SafeFileHandle file)
    {
        if (OperatingSystem.IsLinux() && syncfs(file.DangerousGetHandle().ToInt32()) != 0)
            throw new IOException("The stick did not accept what was written. Check it before you unplug it.");
    }

#pragma warning disable IDE1006 // The names are those of the C library.
    [DllImport("libc", SetLastError = false)]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern int posix_fadvise(int file, long offset, long length, int advice);

    [DllImport("libc", SetLastError = false)]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern int syncfs(int file);
#pragma warning restore IDE1006
}
