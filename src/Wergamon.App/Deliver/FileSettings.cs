namespace Wergamon.App.Deliver;

/// <summary>How files in the order of a delivery are made and named.</summary>
public abstract record FileSettings
{
    /// <param name="targetKey">The target unless another is chosen.</param>
    protected FileSettings(string targetKey) => TargetKey = targetKey;

    public string TargetKey { get; init; }

    /// <summary>How the files are named, as a pattern.</summary>
    public string Names { get; init; } = DeliveredFiles.NumberedNames;

    /// <summary>True when the numbers of names are places in this order, not those of the albums.</summary>
    public bool IsNumbered { get; init; } = true;

    public bool HasPlaylist { get; init; } = true;
}
