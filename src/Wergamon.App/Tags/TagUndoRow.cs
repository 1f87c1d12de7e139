namespace Wergamon.App.Tags;

/// <summary>What a write replaced, and how the file looked after it.</summary>
internal sealed record TagUndoRow
{
    public long ItemId { get; init; }

    public long CopyId { get; init; }

    public bool IsDone { get; init; }

    public bool IsInPlace { get; init; }

    public long OldLength { get; init; }

    public string? OldPath { get; init; }

    public long NewLength { get; init; }

    public string NewHash { get; init; } = "";

    public long? UndoneBy { get; init; }
}
