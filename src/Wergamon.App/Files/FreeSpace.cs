namespace Wergamon.App.Files;

/// <summary>Free space on the disk of a folder that need not exist yet.</summary>
public static class FreeSpace
{
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
