namespace Wergamon.App.Library.Scan;

/// <summary>A music folder and what is in it.</summary>
public sealed record MusicFolder
{
    public long Id { get; init; }

    public string Path { get; init; } = "";

    public bool IsPaused { get; init; }

    public long? ScannedAt { get; init; }

    public int Copies { get; init; }

    /// <summary>Files that were added since yesterday.</summary>
    public int New { get; init; }

    public int Missing { get; init; }

    public int Damaged { get; init; }

    public int Unreadable { get; init; }

    public bool IsScanning { get; set; }

    /// <summary>False when the folder itself does not exist, as with a drive that is not connected.</summary>
    public bool IsThere { get; set; } = true;
}
