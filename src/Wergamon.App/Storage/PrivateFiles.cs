namespace Wergamon.App.Storage;

/// <summary>Folders and files that only the account of the server may read.</summary>
public static class PrivateFiles
{
    private const UnixFileMode FolderMode = UnixFileMode.UserRead | UnixFileMode.UserWrite | UnixFileMode.UserExecute;
    private const UnixFileMode FileMode = UnixFileMode.UserRead | UnixFileMode.UserWrite;

    /// <summary>Makes a folder with mode 0700, and removes the rights of others from an existing one.</summary>
    public static void CreateFolder(string path)
    {
        Directory.CreateDirectory(path);
        if (!OperatingSystem.IsWindows())
            File.SetUnixFileMode(path, FolderMode);
    }

    /// <summary>Gives a file mode 0600.</summary>
    public static void Protect(string path)
    {
        if (!OperatingSystem.IsWindows())
            File.SetUnixFileMode(path, FileMode);
    }
}
