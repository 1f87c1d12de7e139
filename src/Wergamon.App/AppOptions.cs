namespace Wergamon.App;

/// <summary>Where things are on this machine. All paths are absolute.</summary>
public sealed record AppOptions
{
    /// <summary>The application's own folder: database, logs, trash, and copies made without another place being named.</summary>
    public required string DataFolder { get; init; }

    /// <summary>Music folders and output folders must lie below one of these.</summary>
    public required IReadOnlyList<string> AllowedBases { get; init; }

    /// <summary>The worker's program file.</summary>
    public required string WorkerPath { get; init; }

    public int WorkerCount { get; init; } = Environment.ProcessorCount;

    /// <summary>Whether workers give way to everything else on the machine.</summary>
    public bool WorkersGiveWay { get; init; }

    /// <summary>A worker without any sign of life for this long is replaced.</summary>
    public TimeSpan WorkerSilence { get; init; } = TimeSpan.FromSeconds(30);

    /// <summary>A worker that takes more memory than this is replaced.</summary>
    public long WorkerMemoryBytes { get; init; } = 1L << 30;

    /// <summary>The shelf of simulated discs, with the catalogue and the ledger that know them.</summary>
    public string RackFolder { get; init; } = "";

    /// <summary>How much quicker than real ones the simulated drives work.</summary>
    public double DriveQuickness { get; init; } = 1;

    public string DatabasePath => Path.Combine(DataFolder, "wergamon.db");

    public string TrashFolder => Path.Combine(DataFolder, "trash");

    /// <summary>The sound of tracks that were read and whose copies are not all made yet.</summary>
    public string SpoolFolder => Path.Combine(DataFolder, "spool");

    /// <summary>Sound that was decoded to be listened to; emptied at every start.</summary>
    public string ListeningFolder => Path.Combine(DataFolder, "listening");

    public string RippedFolder => Path.Combine(DataFolder, "ripped");

    public string ConvertedFolder => Path.Combine(DataFolder, "converted");
}
