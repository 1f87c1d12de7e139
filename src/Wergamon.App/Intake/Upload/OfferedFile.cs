namespace Wergamon.App.Intake.Upload;

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
