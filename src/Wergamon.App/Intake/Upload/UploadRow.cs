namespace Wergamon.App.Intake.Upload;

/// <summary>An incomplete upload.</summary>
public sealed record UploadRow
{
    public long Id { get; init; }

    public string FolderPath { get; init; } = "";

    /// <summary>Below the folder.</summary>
    public string Path { get; init; } = "";

    public long FileBytes { get; init; }

    public long ModifiedAt { get; init; }

    public long StartedAt { get; init; }
}
