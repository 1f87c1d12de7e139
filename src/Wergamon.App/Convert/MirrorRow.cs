using System.Text.Json;
using Wergamon.App.Tracks;
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
