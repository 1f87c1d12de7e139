using System.ComponentModel;
using System.Runtime.InteropServices;
using System.Text;
using Microsoft.Win32.SafeHandles;

namespace Wergamon.FileSystem;

/// <summary>
/// The calls of the Linux kernel that .NET lacks, with its numbers (linux/fcntl.h, linux/openat2.h, linux/stat.h, errno.h).
/// </summary>
internal static unsafe partial class Libc
{
    public const int CurrentFolder = -100;
    public const int ReadOnly = 0, WriteOnly = 1, ReadWrite = 2;
    public const int Create = 0x40, MustBeNew = 0x80, Truncate = 0x200, NonBlocking = 0x800, CloseOnExec = 0x80000, PathOnly = 0x200000;

    public const int NotPermitted = 1, NotFound = 2, Interrupted = 4, NoDevice = 6, TryAgain = 11, AccessDenied = 13, Exists = 17,
        OtherDevice = 18, NotAFolder = 20, IsAFolder = 21, NotSupported = 22, NoSpace = 28, NoSuchCall = 38,
        NotEmpty = 39, TooManyLinks = 40;

    private const long OpenAt2Call = 437;
    private const ulong NoMagicLinks = 2, NoLinks = 4;
    private const int EmptyPath = 0x1000, BasicFacts = 0x7FF, GetFlags = 3, SetFlags = 4, RemoveFolderFlag = 0x200, NoReplaceFlag = 1;

    /// <summary>These differ between architectures.</summary>
    private static readonly bool IsArm = RuntimeInformation.ProcessArchitecture is Architecture.Arm64 or Architecture.Arm;

    public static readonly int FolderOnly = IsArm ? 0x4000 : 0x10000;
    public static readonly int NoFollow = IsArm ? 0x8000 : 0x20000;

    /// <summary>Past the kernel's cache; 0 if the flag is unknown.</summary>
    public static readonly int Uncached = RuntimeInformation.ProcessArchitecture is Architecture.X64 or Architecture.X86
        ? 0x4000
        : IsArm
        ? 0x10000
        : 0;

    /// <summary>False once the kernel, or a sandbox, has reported that it lacks the call.</summary>
    private static volatile bool _hasOpenAt2 = true;

    /// <summary>For tests: walks the path part by part even if the kernel could do it in one call.</summary>
    internal static void UseWalk(bool isWanted) => _hasOpenAt2 = !isWanted;

    /// <summary>Opens an absolute path of which no part is a link.</summary>
    /// <param name="error">0, or the error of the kernel.</param>
    public static SafeFileHandle? Open(string path, int flags, int mode, out int error)
    {
        while (_hasOpenAt2)
        {
            var how = new OpenHow
            {
                Flags = (ulong)(uint)(flags | CloseOnExec),
                Mode = (flags & Create) != 0 ? (ulong)mode : 0,
                Resolve = NoLinks | NoMagicLinks
            };
            long file;
            fixed (byte* name = Bytes(path))
                file = syscall(OpenAt2Call, CurrentFolder, name, &how, sizeof(OpenHow));
            error = file < 0 ? Marshal.GetLastPInvokeError() : 0;
            if (file >= 0)
                return new SafeFileHandle((nint)file, ownsHandle: true);
            if (error is NoSuchCall or NotPermitted && !CanOpenAt2())
                _hasOpenAt2 = false;
            else if (error is not (TryAgain or Interrupted))
                return null;
        }

        return Walk(path, flags, mode, out error);
    }

    /// <summary>Opens an entry of an open folder, without following a link.</summary>
    public static SafeFileHandle? OpenIn(SafeFileHandle folder, string name, int flags, int mode, out int error)
    {
        int file;
        do
        {
            file = openat(Number(folder), Bytes(name), flags | NoFollow | CloseOnExec, mode);
            error = file < 0 ? Marshal.GetLastPInvokeError() : 0;
        }
        while (error == Interrupted);
        return file < 0 ? null : new SafeFileHandle(file, ownsHandle: true);
    }

    /// <summary>Null where the system does not tell.</summary>
    public static FileLook? Look(SafeFileHandle file)
    {
        FileFacts facts;
        return statx(Number(file), [0], EmptyPath, BasicFacts, &facts) == 0
            ? new FileLook(
                (FileKind)(facts.Mode & (int)FileKind.Mask), (long)facts.Size,
                DateTimeOffset.FromUnixTimeSeconds(facts.ModifiedSeconds).AddTicks(facts.ModifiedNanoseconds / 100).UtcDateTime,
                facts.Number, (facts.DeviceMajor, facts.DeviceMinor), facts.Mode & 0xFFF)
            : null;
    }

    /// <summary>Reading and writing may block again; only opening must not.</summary>
    public static void MakeBlocking(SafeFileHandle file)
    {
        int flags = fcntl(Number(file), GetFlags, 0);
        if (flags >= 0 && (flags & NonBlocking) != 0)
            _ = fcntl(Number(file), SetFlags, flags & ~NonBlocking);
    }

    /// <summary>0, or the error of the kernel.</summary>
    public static int MakeFolder(SafeFileHandle parent, string name) =>
        mkdirat(Number(parent), Bytes(name), 0x1FF) == 0 ? 0 : Marshal.GetLastPInvokeError();

    /// <summary>0, or the error of the kernel.</summary>
    public static int Remove(SafeFileHandle parent, string name, bool isFolder) =>
        unlinkat(Number(parent), Bytes(name), isFolder ? RemoveFolderFlag : 0) == 0 ? 0 : Marshal.GetLastPInvokeError();

    /// <summary>0, or the error of the kernel.</summary>
    public static int Rename(SafeFileHandle from, string name, SafeFileHandle to, string newName, bool replaces)
    {
        if (renameat2(Number(from), Bytes(name), Number(to), Bytes(newName), replaces ? 0u : NoReplaceFlag) == 0)
            return 0;
        int error = Marshal.GetLastPInvokeError();
        // FAT and some network file systems cannot refuse in the same step.
        if (error != NotSupported || replaces)
            return error;
        using (var taken = OpenIn(to, newName, PathOnly, 0, out _))
        {
            if (taken is not null)
                return Exists;
        }

        return renameat2(Number(from), Bytes(name), Number(to), Bytes(newName), 0) == 0 ? 0 : Marshal.GetLastPInvokeError();
    }

    /// <summary>Takes a lock on the whole file unless another process or handle has it: flock(2).</summary>
    public static bool TryLock(SafeFileHandle file) => flock(Number(file), 2 | 4) == 0;

    /// <summary>In the words of the system.</summary>
    public static string TextOf(int error) => new Win32Exception(error).Message;

    private static SafeFileHandle? Walk(string path, int flags, int mode, out int error)
    {
        var parts = path.Split('/', StringSplitOptions.RemoveEmptyEntries);
        var at = new SafeFileHandle(openat(CurrentFolder, Bytes("/"), PathOnly | FolderOnly | CloseOnExec, 0), ownsHandle: true);
        for (int i = 0; i < parts.Length; i++)
        {
            bool isLast = i == parts.Length - 1;
            var next = OpenIn(at, parts[i], isLast ? flags : PathOnly | FolderOnly, mode, out error);
            at.Dispose();
            if (next is null)
                return null;
            at = next;
        }

        error = 0;
        // Without parts it is the root itself; a link that was opened as such is one.
        if ((flags & PathOnly) != 0 && Look(at) is { Kind: FileKind.Link })
        {
            at.Dispose();
            error = TooManyLinks;
            return null;
        }

        return at;
    }

    private static bool CanOpenAt2()
    {
        var how = new OpenHow { Flags = (ulong)(uint)(PathOnly | CloseOnExec), Resolve = NoLinks };
        fixed (byte* name = Bytes("/"))
        {
            long file = syscall(OpenAt2Call, CurrentFolder, name, &how, sizeof(OpenHow));
            if (file >= 0)
                new SafeFileHandle((nint)file, ownsHandle: true).Dispose();
            return file >= 0;
        }
    }

    private static byte[] Bytes(string text) => Encoding.UTF8.GetBytes(text + '\0');

    private static int Number(SafeFileHandle file) => file.DangerousGetHandle().ToInt32();

#pragma warning disable IDE1006 // The names are those of the C library.
    [DllImport("libc", SetLastError = true)]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern long syscall(long number, int folder, byte* path, OpenHow* how, nint size);

    [DllImport("libc", SetLastError = true)]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern int openat(int folder, byte[] path, int flags, int mode);

    [DllImport("libc", SetLastError = true)]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern int statx(int folder, byte[] path, int flags, uint wanted, FileFacts* facts);

    [DllImport("libc", SetLastError = true)]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern int mkdirat(int folder, byte[] path, uint mode);

    [DllImport("libc", SetLastError = true)]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern int unlinkat(int folder, byte[] path, int flags);

    [DllImport("libc", SetLastError = true)]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern int renameat2(int folder, byte[] path, int newFolder, byte[] newPath, uint flags);

    [DllImport("libc", SetLastError = true)]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern int fcntl(int file, int command, int value);

    [DllImport("libc", SetLastError = true)]
    [DefaultDllImportSearchPaths(DllImportSearchPath.SafeDirectories)]
    private static extern int flock(int file, int operation);
#pragma warning restore IDE1006

    /// <summary>struct open_how.</summary>
    private struct OpenHow
    {
        public ulong Flags;
        public ulong Mode;
        public ulong Resolve;
    }

    /// <summary>struct statx, which is the same on all machines; unused fields are omitted.</summary>
    [StructLayout(LayoutKind.Explicit, Size = 256)]
    private struct FileFacts
    {
        [FieldOffset(28)]
        public ushort Mode;

        [FieldOffset(32)]
        public ulong Number;

        [FieldOffset(40)]
        public ulong Size;

        [FieldOffset(112)]
        public long ModifiedSeconds;

        [FieldOffset(120)]
        public uint ModifiedNanoseconds;

        [FieldOffset(136)]
        public uint DeviceMajor;

        [FieldOffset(140)]
        public uint DeviceMinor;
    }
}
