namespace Wergamon.App.Library.Removing;

/// <summary>A file in the trash.</summary>
public sealed record TrashItem
{
    public long Id { get; init; }

    /// <summary>Null for a file that was replaced by a newer one.</summary>
    public long? CopyId { get; init; }

    /// <summary>Where it was.</summary>
    public string Path { get; init; } = "";

    /// <summary>Its path in the trash.</summary>
    public string Place { get; init; } = "";

    public long FileBytes { get; init; }

    public string Reason { get; init; } = "";

    public long TakenAt { get; init; }

    /// <summary>Its time in the trash while the server was running.</summary>
    public long AgeMs { get; init; }

    /// <summary>How long it is still kept.</summary>
    public TimeSpan Remaining => Trash.KeptFor - TimeSpan.FromMilliseconds(AgeMs);
}
