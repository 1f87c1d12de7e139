namespace Wergamon.App.Convert;

/// <summary>A folder whose files are converted automatically.</summary>
public sealed record DropFolder
{
    public long Id { get; init; }

    public string Path { get; init; } = "";

    public string TargetKey { get; init; } = "";

    public string OutputFolder { get; init; } = "";

    /// <summary>True if originals are moved to the trash once they are converted and proved.</summary>
    public bool RemovesSources { get; init; }

    /// <summary>
    /// What the target did to the sound when the person agreed that originals may go (<see cref="Convert.AgreedLoss"/>); null where that
    /// was never asked.
    /// </summary>
    public string? AgreedLoss { get; init; }

    public bool IsPaused { get; init; }

    public int Running { get; init; }

    public int Done { get; init; }

    public int Failed { get; init; }
}
