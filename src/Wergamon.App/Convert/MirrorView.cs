using Wergamon.Core.Planning;
using Wergamon.Core.Sync;

namespace Wergamon.App.Convert;

/// <summary>A track of a mirror and what it needs.</summary>
/// <param name="Line">Null for a track that is gone or has no source.</param>
public sealed record MirrorLine(SyncStep Step, PlanLine? Line)
{
    public string Title => Line?.Title ?? Path.GetFileNameWithoutExtension(Step.Written!.Path);

    public long TrackId => Step.Key.TrackId!.Value;
}

/// <summary>A mirror beside the library and the disk as they are now.</summary>
/// <param name="IsAway">True when it has made files and its folder is missing, as when a drive is not connected.</param>
/// <param name="RunId">The run that is bringing it up to date; null when none is.</param>
public sealed record MirrorView(MirrorRow Mirror, Target Target, IReadOnlyList<MirrorLine> Lines, bool IsAway, long? FreeBytes, long? RunId)
{
    /// <summary>See <see cref="SyncStep.Analysed"/>. They are not saved yet; see <see cref="Mirrors.Reconcile"/>.</summary>
    public IEnumerable<WrittenFile> Analysed => Lines.Select(line => line.Step.Analysed).OfType<WrittenFile>();

    /// <summary>Files that are neither wanted nor there any more; while the folder is away, they only seem so.</summary>
    public IReadOnlyList<WrittenFile> Vanished { get; init; } = [];

    /// <summary>True when a look has found something that is not saved yet.</summary>
    public bool HasFindings => Analysed.Any() || Vanished.Count > 0 && !IsAway;

    public IReadOnlyList<MirrorLine> ToDo { get; } = [.. Lines.Where(line => line.Step.IsToDo)];

    public int Count(SyncState state) => Lines.Count(line => line.Step.State == state);

    public long BytesAdded => Lines.Where(line => line.Step.IsWritten).Sum(line => line.Line!.Planned!.Size.Bytes);

    public bool HasRoom => FreeBytes is not { } free || BytesAdded < free;

    public bool CanRun => !IsAway && HasRoom && RunId is null && ToDo.Count > 0;
}
