using Wergamon.App.Tracks;

namespace Wergamon.App.Deliver.Sticks;

/// <summary>A set, an album or tracks that a stick should hold.</summary>
public sealed record StickListRow
{
    public long Id { get; init; }

    public string Title { get; init; } = "";

    /// <summary>Of a set; null for a part of the library.</summary>
    public long? ListId { get; init; }

    /// <summary>As JSON; null for a set.</summary>
    public string? Part { get; init; }

    public LibraryPart? ReadPart() => Part is null ? null : LibraryPart.Read(Part);
}
