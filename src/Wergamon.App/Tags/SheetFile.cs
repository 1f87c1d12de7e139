namespace Wergamon.App.Tags;

/// <summary>One file on a sheet.</summary>
public sealed record SheetFile
{
    public long CopyId { get; init; }

    public long TrackId { get; init; }

    public long AlbumId { get; init; }

    public string Path { get; init; } = "";

    public string CodecName { get; init; } = "";

    public string FileFormat { get; init; } = "";

    public bool IsMissing { get; init; }

    public long FrameCount { get; init; }

    public int SampleRate { get; init; }
}
