namespace Wergamon.Core.Matching;

/// <summary>A file among its duplicates.</summary>
public sealed record DuplicateFile
{
    public required long CopyId { get; init; }

    public required long TrackId { get; init; }

    public required string Label { get; init; }

    public required bool IsLossless { get; init; }

    public required int Generation { get; init; }

    public required int KilobitsPerSecond { get; init; }

    /// <summary>The target that it was made for; null for an imported file.</summary>
    public string? MadeFor { get; init; }

    /// <summary>Fields that the file itself holds.</summary>
    public required int TagCount { get; init; }

    /// <summary>Pictures that the file itself holds.</summary>
    public required int PictureCount { get; init; }

    /// <summary>False for containers that many programs do not read tags from.</summary>
    public required bool HoldsTagsWell { get; init; }

    public required long Bytes { get; init; }

    public required bool IsDamaged { get; init; }
}
