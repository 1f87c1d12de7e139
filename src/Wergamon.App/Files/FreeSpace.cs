namespace Wergamon.App.Files;

/// <summary>Free space on the disk of a folder that need not exist yet.</summary>
public static class FreeSpace
{
    /// <summary>
    /// The file system that a folder is on, as the system calls it: "vfat"; null if that cannot be determined now.
    /// </summary>
    public static string? FileSystemAt(string folder)
    {
        try
        {
            return new DriveInfo(folder).DriveFormat;
        }
        catch (Exception failure) when (failure is IOException or UnauthorizedAccessException)
        {
            // Taken away this very moment.
            return null;
        }
    }

    /// <summary>In bytes; null where no part of the path exists.</summary>
    public static long? At(string folder)
    {
        for (var at = folder; at is not null; at = Path.GetDirectoryName(at))
        {
            if (Directory.Exists(at))
                return new DriveInfo(at).AvailableFreeSpace;
        }

        return null;
    }
}
