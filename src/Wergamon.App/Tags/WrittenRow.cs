namespace Wergamon.App.Tags;

/// <summary>A run that has written tags.</summary>
public sealed record WrittenRow
{
    public long RunId { get; init; }

    public string Title { get; init; } = "";

    public long StartedAt { get; init; }

    public int Files { get; init; }

    /// <summary>Files whose write can be undone.</summary>
    public int CanUndo { get; init; }
}
