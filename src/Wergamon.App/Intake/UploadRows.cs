namespace Wergamon.App.Intake;

/// <summary>A file offered for upload.</summary>
/// <param name="Path">Below the music folder, with '/' between its parts.</param>
/// <param name="Bytes">Its length.</param>
/// <param name="ModifiedAt">When it was last changed, in Unix milliseconds.</param>
public sealed record OfferedFile(string Path, long Bytes, long ModifiedAt);

/// <summary>Reply for one offered file: from where to send its bytes, or why it is refused.</summary>
/// <param name="Id">The ID to send its bytes under; null when it is refused.</param>
/// <param name="Received">How many bytes are here already.</param>
public sealed record OfferAnswer(long? Id, long Received, string? Refusal);

/// <summary>Reply to an offer: either one reason against all of it or a reply per file.</summary>
public sealed record OfferReply(string? Refusal, IReadOnlyList<OfferAnswer> Files);

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

public enum ArrivalState
{
    /// <summary>More is to come.</summary>
    Partly,

    /// <summary>The file is complete and in its place.</summary>
    Done,

    /// <summary>The same file was there already.</summary>
    WasThere,

    /// <summary>The bytes do not continue what has arrived.</summary>
    WrongPlace,

    /// <summary>It cannot be taken.</summary>
    Refused,
}

/// <summary>How far a file is after some of it has arrived.</summary>
/// <param name="FinalPath">Where it lies once it is done.</param>
public sealed record Arrival(ArrivalState State, long Received, string? FinalPath = null, string? Refusal = null);
