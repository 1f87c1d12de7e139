using Wergamon.App.Files;
using Wergamon.App.Runs;
using Wergamon.App.Storage;
using Wergamon.App.Workers;

namespace Wergamon.App.Copies;

/// <summary>Stops a run while the folder that it writes to is on a full disk or a disconnected drive.</summary>
public sealed class CopyDestination(RunStore runs, WorkLoad load, AppOptions options)
{
    /// <summary>
    /// Free space needed besides what all workers had written when the disk was full; with less they would fill it again at once.
    /// </summary>
    private const long RoomBesides = 2 << 20;

    /// <exception cref="RunStoppedException">The disk is full.</exception>
    public void StopIfFull(string folder, NewFile file) =>
        DestinationWait.StopIfFull(folder, RoomBesides + load.MaxWorkers * PlainFile.Length(file.TemporaryPath));

    /// <summary>A run writes nowhere else when the drive that it has written to is disconnected.</summary>
    /// <exception cref="RunStoppedException">The folder is missing or empty though the run has written to it.</exception>
    public void StopIfAway(RunItemRow item, CopySpec spec)
    {
        // The spool is on the disk of the database, and it is empty once all files have been moved to their destination.
        if (!IsSpool(spec.OutputFolder) && !DestinationWait.HoldsAnything(spec.OutputFolder)
            && runs.HasMadeIn(item.RunId, spec.OutputFolder))
            throw new RunStoppedException(
                $"{spec.OutputFolder} is missing or empty. If its drive was disconnected, connect it again: the run continues "
                    + "automatically.")
            { WaitsFor = new DestinationWait(spec.OutputFolder, 0) };
    }

    /// <summary>True for a folder in which files are only stored until they are moved to their destination.</summary>
    private bool IsSpool(string path) =>
        AllowedPaths.IsBelow(path, options.Folders.Spool) || AllowedPaths.IsBelow(path, options.Folders.DeliverySpool);
}
