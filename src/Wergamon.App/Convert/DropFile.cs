using Wergamon.App.Files;

namespace Wergamon.App.Convert;

/// <summary>A file of a drop folder that was taken into a run.</summary>
internal sealed record DropFile
{
    public const string Running = "running", Done = "done", Failed = "failed";

    public string Path { get; init; } = "";

    public long FileBytes { get; init; }

    public long ModifiedAt { get; init; }

    public long? RunId { get; init; }

    public string State { get; init; } = Running;

    /// <summary>True when the original may go: its copy keeps all of it, or its loss was agreed to before the run began.</summary>
    public bool MayGo { get; init; }

    /// <summary>True when the file is still the one that was taken.</summary>
    public bool Fits(FileStamp stamp) => (FileBytes, ModifiedAt) == stamp.SizeAndTime;
}
