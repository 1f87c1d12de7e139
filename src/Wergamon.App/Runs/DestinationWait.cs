using Wergamon.App.Files;

namespace Wergamon.App.Runs;

/// <summary>What a run waits for before it continues: space on a full disk, or a folder whose drive is not connected.</summary>
/// <param name="Folder">A folder on the disk, or a file.</param>
/// <param name="BytesWanted">With this much free space it is worth trying again; 0 if the folder has to come back.</param>
public sealed record DestinationWait(string Folder, long BytesWanted)
{
    public bool IsOver => BytesWanted == 0 ? HoldsAnything(Folder) : FreeSpace.At(Folder) >= BytesWanted;

    /// <summary>With less free space than this a disk counts as full.</summary>
    private const long FullBelowBytes = 4 << 20;

    /// <summary>Stops a run whose disk is full until there is space again.</summary>
    /// <param name="bytes">What it wants to write.</param>
    /// <exception cref="RunStoppedException">The disk is full.</exception>
    public static void StopIfFull(string folder, long bytes)
    {
        if (FreeSpace.At(folder) is { } free and < FullBelowBytes)
            throw new RunStoppedException(
                $"The disk with {folder} is full ({free / 1_000_000} MB free). The run continues once there is space.")
            { WaitsFor = new DestinationWait(folder, FullBelowBytes + bytes) };
    }

    /// <summary>False for a folder that is missing or empty, like the mount point of a disconnected drive; true for a file.</summary>
    public static bool HoldsAnything(string folder) =>
        PlainFile.Exists(folder) || PlainFolder.Exists(folder) && !PlainFolder.IsEmpty(folder);
}
