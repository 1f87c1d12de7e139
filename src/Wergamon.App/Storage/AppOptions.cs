namespace Wergamon.App.Storage;

/// <summary>What to do at start when the data folder has backups but no database.</summary>
public enum StartWith
{
    /// <summary>Nothing: the person has to decide.</summary>
    Undecided,

    Backup,
    NewLibrary,
}

/// <summary>The folders, files and limits of this machine. All paths are absolute.</summary>
public sealed record AppOptions
{
    /// <summary>The application's own folder: database, logs, trash, and copies for which no other folder was chosen.</summary>
    public required string DataFolder { get; init; }

    /// <summary>The data folder as it was given, if that path leads through a link; otherwise null.</summary>
    public string? DataFolderLink { get; init; }

    /// <summary>Music folders and output folders must be below one of these.</summary>
    public required IReadOnlyList<string> AllowedBases { get; init; }

    /// <summary>Music that a new library starts with, for trying things; null for none.</summary>
    public string? DemoFolder { get; init; }

    /// <summary>The worker's program file.</summary>
    public required string WorkerPath { get; init; }

    public int WorkerCount { get; init; } = Environment.ProcessorCount;

    /// <summary>A worker without any sign of life for this long is replaced.</summary>
    public TimeSpan WorkerSilence { get; init; } = TimeSpan.FromSeconds(30);

    /// <summary>A scan gives a file up after this long and continues with the others.</summary>
    public TimeSpan ScanLimit { get; init; } = TimeSpan.FromMinutes(2);

    /// <summary>A worker that uses more memory than this is replaced.</summary>
    public long WorkerMemoryBytes { get; init; } = 1L << 30;

    /// <summary>How long SQLite itself waits for a lock before the person gets a message.</summary>
    public TimeSpan DatabaseLockWait { get; init; } = TimeSpan.FromSeconds(2);

    public StartWith StartWith { get; init; }

    /// <summary>The name of the backup to restore; null for the newest.</summary>
    public string? RestoreFrom { get; init; }

    /// <summary>The shelf of simulated discs, with the catalogue and the ledger that know them.</summary>
    public string RackFolder { get; init; } = "";

    /// <summary>How many times as fast as real drives the simulated ones work.</summary>
    public double DriveSpeedup { get; init; } = 1;

    /// <summary>The maximum space that the sounds of comparisons take.</summary>
    public long BenchCacheBytes { get; init; } = 8L << 30;

    /// <summary>What is where in <see cref="DataFolder"/>.</summary>
    public DataFolders Folders => new(DataFolder);
}
