using System.Runtime.InteropServices;
using Microsoft.Win32.SafeHandles;

namespace Wergamon.App.Files;

/// <summary>
/// Files that are written to and read from their disk past the kernel's cache: O_DIRECT of open(2). Offsets, lengths and
/// memory are whole pages.
/// </summary>
internal static class DirectFile
{
    /// <summary>No disk has larger sectors.</summary>
    public const int PageBytes = 4096;

    /// <summary>A new file; null if the file system does not support it, or the file exists.</summary>
    public static SafeFileHandle? TryCreate(string path) => TryOpen(path, FileMode.CreateNew, FileAccess.Write);

    /// <summary>A file to be read; null if the file system does not support it.</summary>
    public static SafeFileHandle? TryRead(string path) => TryOpen(path, FileMode.Open, FileAccess.Read);

    /// <summary>Memory that is aligned so that the disk can reach it.</summary>
    public static Memory<byte> Allocate(int bytes)
    {
        var array = GC.AllocateUninitializedArray<byte>(bytes + PageBytes, pinned: true);
        int offset = (int)(PageBytes - Marshal.UnsafeAddrOfPinnedArrayElement(array, 0).ToInt64() % PageBytes);
        return array.AsMemory(offset, bytes);
    }

    private static SafeFileHandle? TryOpen(string path, FileMode mode, FileAccess access)
    {
        try
        {
            return PlainFile.OpenHandle(path, mode, access, isUncached: true);
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            // Without it, or with the reason.
            return null;
        }
    }
}
