using System.Runtime.InteropServices;
using Microsoft.Win32.SafeHandles;

namespace Wergamon.App.Files;

/// <summary>The kernel's cache of files. Where it cannot be controlled, nothing is done.</summary>
internal static class DiskCache
{
    private const int NotNeeded = 4;

    /// <summary>
    /// Drops a flushed file from the cache, so that the next read comes from the disk: posix_fadvise(2).
    /// </summary>
    public static void Drop(SafeFileHandle file)
    {
        if (OperatingSystem.IsLinux())
            _ = posix_fadvise(file.DangerousGetHandle().ToInt32(), 0, 0, NotNeeded);
    }

    /// <summary>Flushes a whole file system to its disk: syncfs(2).</summary>
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
