namespace Wergamon.Testing.Outside;

/// <summary>One track as an outside library sees it.</summary>
/// <param name="Start">The sector of index 1.</param>
public sealed record OutsideTrack(int Number, bool IsAudio, int Start, string? Isrc, string? Title, string? Performer);
