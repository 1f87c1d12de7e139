using System.Runtime.InteropServices;
using System.Text;
using Microsoft.Win32.SafeHandles;

namespace Wergamon.App.Files;

/// <summary>Files that are written to and read from their disk without being kept in memory by the kernel: O_DIRECT of open(2). Offsets, lengths and memory are whole pages.</summary>
internal static class DirectFile
{
    /// <summary>No disk has larger sectors.</summary>
    public const int PageBytes = 4096;

    private const int WriteOnly = 1, Create = 0x40, MustBeNew = 0x80, CloseOnExec = 0x80000, EverybodysDefault = 0x1B6;

    /// <summary>The flag differs between kernels' architectures; 0 where it is not known here.</summary>
    private static readonly int Direct = !OperatingSystem.IsLinux() ? 0 : RuntimeInformation.ProcessArchitecture switch
    {
        Architecture.X64 or Architecture.X86 => 0x4000,
        Architecture.Arm64 or Architecture.Arm => 0x10000,
        _ => 0,
    };

    /// <summary>A new file; null where the file system does not take it, or there is one.</summary>
    public static SafeFileHandle? TryCreate(string path) => TryOpen(path, WriteOnly | Create | MustBeNew);

    /// <summary>A file to be read; null where the file system does not give it.</summary>
    public static SafeFileHandle? TryRead(string path) => TryOpen(path, 0);

    /// <summary>Memory that lies where the disk can reach it.</summary>
    public static Memory<byte> Allocate(int bytes)
    {
        var array = GC.AllocateUninitializedArray<byte>(bytes + PageBytes, pinned: true);
        int offset = (int)(PageBytes - Marshal.UnsafeAddrOfPinnedArrayElement(array, 0).ToInt64() % PageBytes);
        return array.AsMemory(offset, bytes);
    }

    private static SafeFileHandle? TryOpen(string path, int flags)
    {
        if (Direct == 0)
            return null;
        int file = open(Encoding.UTF8.GetBytes(path + '\0'), flags | Direct | CloseOnExec, EverybodysDefault);
        return file < 0 ? null : new SafeFileHandle(file, ownsHandle: true);
    }

#pragma warning disable IDE1006 // The name is that of the C library.
    [DllImport("libc", SetLastError = false)]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern int open(byte[] path, int flags, int mode);
#pragma warning restore IDE1006
}
