using Wergamon.App.Copies;
using Wergamon.Core.Jobs;

namespace Wergamon.App.Convert;

/// <summary>One step with a file of a mirror.</summary>
/// <param name="Path">Where the file is, or was when the step was planned.</param>
public sealed record MirrorFileSpec(long MirrorId, long TrackId, MirrorAction Action, string Path)
{
    /// <summary>The folder of the mirror: empty ones below it go, too.</summary>
    public string Root { get; init; } = "";

    /// <summary>For a move: where to.</summary>
    public string? To { get; init; }

    /// <summary>For tags: how they are made, and what identifies them then.</summary>
    public ConvertJob? Job { get; init; }

    public MirrorEntry? Entry { get; init; }
}
