namespace Wergamon.App.Storage;

/// <summary>What is where in the application's own folder.</summary>
/// <param name="root">Its absolute path.</param>
public readonly struct DataFolders(string root)
{
    public string Database => Path.Combine(root, "wergamon.db");

    public string Trash => Path.Combine(root, "trash");

    /// <summary>Audio of ripped tracks whose copies are not all made yet.</summary>
    public string Spool => Path.Combine(root, "spool");

    public string Waveforms => Path.Combine(root, "waveforms");

    /// <summary>Audio decoded for playback; emptied at every start.</summary>
    public string Playback => Path.Combine(root, "playback");

    /// <summary>Tracks that are ready for a disc not yet written.</summary>
    public string DeliverySpool => Path.Combine(root, "delivery-spool");

    /// <summary>Discs that the simulated burners have written.</summary>
    public string Burned => Path.Combine(root, "burned");

    /// <summary>Sounds of comparisons, which can be made again.</summary>
    public string Bench => Path.Combine(root, "bench");

    public string Delivered => Path.Combine(root, "delivered");

    public string Ripped => Path.Combine(root, "ripped");

    public string Converted => Path.Combine(root, "converted");
}
