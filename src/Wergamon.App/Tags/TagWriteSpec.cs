namespace Wergamon.App.Tags;

/// <summary>All that changes in one file.</summary>
/// <param name="Fields">Other fields stay as they are.</param>
/// <param name="Pictures">All pictures of the file; null if they are not changed.</param>
/// <param name="NewPath">The new name of the file; null if it is not renamed.</param>
public sealed record TagWriteSpec(long CopyId, IReadOnlyList<FieldChange> Fields, IReadOnlyList<PictureChoice>? Pictures, string? NewPath)
{
    /// <summary>3 or 4; null for the version that the file has.</summary>
    public int? Id3v2Version { get; init; }

    /// <summary>True if the file keeps its time of modification.</summary>
    public bool KeepsTime { get; init; }

    /// <summary>The file that was reviewed; null in runs from before this was stored.</summary>
    public ReviewedFile? Reviewed { get; init; }

    /// <summary>True if the person agreed to lose the unreadable parts of damaged tags.</summary>
    public bool DropsUnreadable { get; init; }
}

/// <summary>Undoes a write.</summary>
/// <param name="ItemId">The item that wrote.</param>
public sealed record TagUndoSpec(long CopyId, long ItemId)
{
    public bool KeepsTime { get; init; }
}

/// <summary>What a write did.</summary>
/// <param name="Path">Where the file is now.</param>
/// <param name="IsInPlace">True when only the bytes that differ were written.</param>
/// <param name="BytesWritten">How many.</param>
/// <param name="Lost">What the format could not hold.</param>
public sealed record TagWriteResult(string Path, bool IsInPlace, long BytesWritten, IReadOnlyList<string> Lost);
