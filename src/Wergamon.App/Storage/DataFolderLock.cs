namespace Wergamon.App.Storage;

/// <summary>Only one server works with a data folder. The kernel releases the lock when the process ends, however it ends.</summary>
public sealed class DataFolderLock : IDisposable
{
    private readonly FileStream _file;

    private DataFolderLock(FileStream file) => _file = file;

    /// <summary>Locks a data folder; null when another server holds the lock.</summary>
    /// <exception cref="IOException">The folder cannot be made or written.</exception>
    /// <exception cref="UnauthorizedAccessException">The folder cannot be made or written.</exception>
    public static DataFolderLock? Take(string dataFolder)
    {
        PrivateFiles.CreateFolder(dataFolder);
        var path = Path.Combine(dataFolder, "server.lock");
        // Made first, so that a failure to open it afterwards can only be the lock.
        if (!File.Exists(path))
            File.WriteAllBytes(path, []);
        try
        {
            return new DataFolderLock(new FileStream(path, FileMode.Open, FileAccess.ReadWrite, FileShare.None));
        }
        catch (IOException)
        {
            return null;
        }
    }

    public void Dispose() => _file.Dispose();
}
