namespace Wergamon.App.Deliver;

/// <summary>How files in the order of a delivery are made and named.</summary>
public abstract record FileSettings
{
    /// <param name="targetKey">The target unless another is chosen.</param>
    protected FileSettings(string targetKey) => TargetKey = targetKey;

    public string TargetKey { get; init; }

    /// <summary>How the files are named, as a pattern.</summary>
    public string Names { get; init; } = DeliveredFiles.NumberedNames;

    /// <summary>True to number names in this order, not by album.</summary>
    public bool IsNumbered { get; init; } = true;

    public bool HasPlaylist { get; init; } = true;
}
