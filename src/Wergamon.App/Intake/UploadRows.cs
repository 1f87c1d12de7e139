namespace Wergamon.App.Intake;

/// <summary>A file that somebody wants to hand over.</summary>
/// <param name="Path">Below the music folder, with '/' between its parts.</param>
/// <param name="Bytes">Its length.</param>
/// <param name="ModifiedAt">When it was last changed, in Unix milliseconds.</param>
public sealed record OfferedFile(string Path, long Bytes, long ModifiedAt);

/// <summary>What is wanted of an offered file: its bytes from one place on, or nothing, and why.</summary>
/// <param name="Id">Under which its bytes are sent; null where it is refused.</param>
/// <param name="Received">How many bytes are here already.</param>
public sealed record OfferAnswer(long? Id, long Received, string? Refusal);

/// <summary>The answer to a whole offer: either a reason against all of it or an answer for each file.</summary>
public sealed record OfferReply(string? Refusal, IReadOnlyList<OfferAnswer> Files);

/// <summary>A file of which not everything is here.</summary>
public sealed record UploadRow
{
    public long Id { get; init; }

    public long FolderId { get; init; }

    public string FolderPath { get; init; } = "";

    /// <summary>Below the folder.</summary>
    public string Path { get; init; } = "";

    public long FileBytes { get; init; }

    public long ModifiedAt { get; init; }

    public long StartedAt { get; init; }
}

public enum ArrivalState
{
    /// <summary>More is to come.</summary>
    Partly,

    /// <summary>The file lies where it belongs.</summary>
    Done,

    /// <summary>The same file was there already.</summary>
    WasThere,

    /// <summary>The bytes do not follow on what is here.</summary>
    WrongPlace,

    /// <summary>It cannot be taken.</summary>
    Refused,
}

/// <summary>How far a file is after some of it has arrived.</summary>
/// <param name="FinalPath">Where it lies once it is done.</param>
public sealed record Arrival(ArrivalState State, long Received, string? FinalPath = null, string? Refusal = null);
