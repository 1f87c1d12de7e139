using Microsoft.Win32.SafeHandles;

namespace Wergamon.FileSystem;

/// <summary>
/// The only way to files of the person. A path is used as it was chosen, link-free, and nothing put in its way since then can lead
/// elsewhere: no part of it may be a link, only regular files are opened, and opening never blocks. Paths are absolute.
/// </summary>
public static class PlainFile
{
    private const int EverybodysDefault = 0x1B6;

    /// <summary>True for a regular file that no link leads to.</summary>
    public static bool Exists(string path) => Look(path) is { IsRegular: true };

    /// <summary>
    /// What is there, link-free: a file, a folder, a device; null if nothing is there, the path has a link, or it cannot be determined.
    /// </summary>
    public static FileLook? Look(string path)
    {
        if (!IsUsable(path))
            return null;
        using var handle = Libc.Open(path, Libc.PathOnly, 0, out _);
        return handle is null ? null : Libc.Look(handle);
    }

    /// <summary>True if anything has the name, even a link or a device: it cannot be used for a new file.</summary>
    /// <exception cref="IOException">There can be no such file: its folder is none, or a link leads there.</exception>
    public static bool IsTaken(string path)
    {
        if (!IsUsable(path))
            return true;
        using var parent = PlainFolder.TryOpen(Parent(path), out int error);
        if (parent is null)
            return error == Libc.NotFound ? false : throw FileError.From(error, Parent(path));
        using var handle = Libc.OpenIn(parent, Path.GetFileName(path), Libc.PathOnly, 0, out error);
        return error != Libc.NotFound;
    }

    /// <summary>The size in bytes; 0 where there is no file.</summary>
    public static long Length(string path) => Look(path) is { IsRegular: true } look ? look.Length : 0;

    /// <summary>When the file was last changed, in UTC; the minimum value without a file.</summary>
    public static DateTime ModifiedUtc(string path) => Look(path) is { IsRegular: true } look ? look.ModifiedUtc : DateTime.UnixEpoch;

    public static void SetModified(string path, DateTime utc)
    {
        using var handle = OpenHandle(path, FileMode.Open, FileAccess.Read);
        File.SetLastWriteTimeUtc(handle, utc);
    }

    /// <summary>Gives a file the permissions of another.</summary>
    public static void CopyMode(string from, string to)
    {
        if (Look(from) is not { } look || OperatingSystem.IsWindows())
            return;
        using var handle = OpenHandle(to, FileMode.Open, FileAccess.Read);
        File.SetUnixFileMode(handle, (UnixFileMode)(look.Mode & 0x1FF));
    }

    public static FileStream OpenRead(string path) => Open(path, FileMode.Open, FileAccess.Read, 1 << 12);

    /// <summary>Opens or makes a file.</summary>
    /// <param name="bufferSize">0 for none.</param>
    /// <param name="isExclusive">Fails if another handle was opened exclusively.</param>
    /// <exception cref="LinkRefusedException">A link leads there, or it is no file.</exception>
    /// <exception cref="FileNotFoundException">There is no file.</exception>
    /// <exception cref="UnauthorizedAccessException">The system refuses.</exception>
    /// <exception cref="IOException">There is a file already, it is in use, or the disk refuses.</exception>
    public static FileStream Open(string path, FileMode mode, FileAccess access, int bufferSize = 0, bool isExclusive = false)
    {
        var handle = OpenHandle(path, mode, access, isExclusive: isExclusive);
        return new FileStream(handle, access, bufferSize, isAsync: false);
    }

    /// <summary>As <see cref="Open"/>, for random access.</summary>
    /// <param name="isUncached">Past the kernel's cache: offsets, lengths and memory are whole pages. Not every file system takes
    /// it.</param>
    public static SafeFileHandle OpenHandle(
        string path, FileMode mode, FileAccess access, bool isExclusive = false, bool isUncached = false)
    {
        Require(path);
        int flags = (
            access switch { FileAccess.Read => Libc.ReadOnly, FileAccess.Write => Libc.WriteOnly, _ => Libc.ReadWrite })
            | Libc.NonBlocking | (isUncached ? Libc.Uncached : 0) | (mode switch
            {
                FileMode.CreateNew => Libc.Create | Libc.MustBeNew,
                FileMode.Create => Libc.Create,
                FileMode.OpenOrCreate => Libc.Create,
                FileMode.Open => 0,
                _ => throw new ArgumentOutOfRangeException(nameof(mode)),
            });
        var handle = Libc.Open(path, flags, EverybodysDefault, out int error) ?? throw FileError.From(error, path);
        try
        {
            if (Libc.Look(handle) is not { IsRegular: true })
                throw new LinkRefusedException($"{path} is a folder, device or pipe, not a file; it was not opened.");
            if (isExclusive && !Libc.TryLock(handle))
                throw new IOException($"{path} is in use.");
            Libc.MakeBlocking(handle);
            // Only now: what is no file must not be cut off.
            if (mode == FileMode.Create)
                RandomAccess.SetLength(handle, 0);
            return handle;
        }
        catch
        {
            handle.Dispose();
            throw;
        }
    }

    /// <summary>All bytes of a file.</summary>
    /// <exception cref="IOException">It cannot be read, or is longer than <paramref name="maxBytes"/>.</exception>
    public static byte[] ReadAll(string path, long maxBytes)
    {
        using var stream = Open(path, FileMode.Open, FileAccess.Read);
        if (stream.Length > maxBytes)
            throw new IOException($"{path} has {stream.Length:N0} bytes; at most {maxBytes:N0} are read.");
        var bytes = new byte[stream.Length];
        int got = stream.ReadAtLeast(bytes, bytes.Length, throwOnEndOfStream: false);
        return got == bytes.Length ? bytes : bytes[..got];
    }

    /// <summary>Writes a whole file, replacing an older one of the name.</summary>
    public static void Write(string path, ReadOnlySpan<byte> bytes)
    {
        using var stream = Open(path, FileMode.Create, FileAccess.Write);
        stream.Write(bytes);
    }

    /// <summary>Removes a file, or a link itself. Nothing happens if nothing is there.</summary>
    public static void Delete(string path)
    {
        Require(path);
        using var parent = PlainFolder.TryOpen(Parent(path), out int error);
        if (parent is null && error == Libc.NotFound)
            return;
        error = parent is null ? error : Libc.Remove(parent, Path.GetFileName(path), isFolder: false);
        if (error is not (0 or Libc.NotFound))
            throw FileError.From(error, path);
    }

    /// <summary>Renames a file within a file system.</summary>
    /// <param name="overwrite">False to fail if the name is taken, atomically.</param>
    public static void Move(string from, string to, bool overwrite = false)
    {
        Require(from);
        Require(to);
        using var source = PlainFolder.Open(Parent(from));
        using var target = PlainFolder.Open(Parent(to));
        int error = Libc.Rename(source, Path.GetFileName(from), target, Path.GetFileName(to), overwrite);
        if (error != 0)
            throw FileError.From(error, error == Libc.Exists ? to : from);
    }

    internal static string Parent(string path) => Path.GetDirectoryName(path) ?? "/";

    /// <summary>True for an absolute path without "." and ".." that the kernel accepts.</summary>
    internal static bool IsUsable(string path) =>
        path.Length > 0 && path[0] == '/' && !path.Contains('\0', StringComparison.Ordinal)
            && !path.Contains("/../", StringComparison.Ordinal) && !path.EndsWith("/..", StringComparison.Ordinal);

    internal static void Require(string path)
    {
        if (!IsUsable(path))
            throw new IOException($"{path} is no whole path.");
    }
}
