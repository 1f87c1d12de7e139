using System.Text.Json;
using Wergamon.App.Library;
using Wergamon.Core.Planning;

namespace Wergamon.App.Convert;

/// <summary>A plan that is kept: a part of the library, a target and a folder that shows it.</summary>
public sealed record MirrorRow
{
    public long Id { get; init; }

    public string Title { get; init; } = "";

    public string Part { get; init; } = "";

    public string Target { get; init; } = "";

    public string OutputFolder { get; init; } = "";

    /// <summary>The latest run that has brought it up to date; null before the first.</summary>
    public long? RunId { get; init; }

    /// <summary>Files that it has made.</summary>
    public int Files { get; init; }

    public LibraryPart ReadPart() => LibraryPart.Read(Part);

    public Target ReadTarget() =>
        JsonSerializer.Deserialize(Target, PlanningJson.Default.Target) ?? throw new InvalidDataException($"Mirror {Id} has no target.");
}

/// <summary>What one track of a mirror does otherwise.</summary>
internal sealed record MirrorChoice
{
    public long TrackId { get; init; }

    public bool IsLeftOut { get; init; }

    public int? Stream { get; init; }

    public string? Exception { get; init; }
}

/// <summary>A track of a mirror and what it needs.</summary>
/// <param name="Line">Null for a track that is gone or has no source.</param>
public sealed record MirrorLine(MirrorStep Step, PlanLine? Line)
{
    public string Title => Line?.Title ?? Path.GetFileNameWithoutExtension(Step.Made!.Path);
}

/// <summary>A mirror beside the library and the disk as they are now.</summary>
/// <param name="IsAway">True when it has made files and its folder is not there: a stick that is not plugged in.</param>
/// <param name="RunId">The run that is bringing it up to date; null when none is.</param>
public sealed record MirrorView(MirrorRow Mirror, Target Target, IReadOnlyList<MirrorLine> Lines, bool IsAway, long? FreeBytes, long? RunId)
{
    public IReadOnlyList<MirrorLine> ToDo { get; } = [.. Lines.Where(line => line.Step.IsToDo)];

    public int Count(MirrorState state) => Lines.Count(line => line.Step.State == state);

    public long BytesAdded => Lines.Where(line => line.Step.Converts).Sum(line => line.Line!.Planned!.Size.Bytes);

    public bool HasRoom => FreeBytes is not { } free || BytesAdded < free;

    public bool CanRun => !IsAway && HasRoom && RunId is null && ToDo.Count > 0;
}
