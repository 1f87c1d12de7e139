using Wergamon.Core.Planning;
using Wergamon.Core.Sync;

namespace Wergamon.App.Convert;

/// <summary>A track of a mirror and what it needs.</summary>
/// <param name="Line">Null for a track that is gone or has no source.</param>
public sealed record MirrorLine(MirrorStep Step, PlanLine? Line)
{
    public string Title => Line?.Title ?? Path.GetFileNameWithoutExtension(Step.Made!.Path);
}

/// <summary>A mirror beside the library and the disk as they are now.</summary>
/// <param name="IsAway">True when it has made files and its folder is missing, as when a drive is not connected.</param>
/// <param name="RunId">The run that is bringing it up to date; null when none is.</param>
public sealed record MirrorView(MirrorRow Mirror, Target Target, IReadOnlyList<MirrorLine> Lines, bool IsAway, long? FreeBytes, long? RunId)
{
    /// <summary>
    /// Files that were made before their source had been analysed, with the digest that it has now, so that later changes of tags and of
    /// sound can be distinguished. They are not saved yet; see <see cref="Mirrors.Reconcile"/>.
    /// </summary>
    public IReadOnlyList<MirrorEntry> Analysed { get; init; } = [];

    public IReadOnlyList<MirrorLine> ToDo { get; } = [.. Lines.Where(line => line.Step.IsToDo)];

    public int Count(MirrorState state) => Lines.Count(line => line.Step.State == state);

    public long BytesAdded => Lines.Where(line => line.Step.Converts).Sum(line => line.Line!.Planned!.Size.Bytes);

    public bool HasRoom => FreeBytes is not { } free || BytesAdded < free;

    public bool CanRun => !IsAway && HasRoom && RunId is null && ToDo.Count > 0;
}
