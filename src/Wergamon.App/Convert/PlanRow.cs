using System.Text.Json;
using Wergamon.Core.Planning;

namespace Wergamon.App.Convert;

public sealed record PlanRow
{
    public long Id { get; init; }

    public string Title { get; init; } = "";

    /// <summary>What the plan was made for, as JSON; changing the target elsewhere changes no plan.</summary>
    public string Target { get; init; } = "";

    public string? OutputFolder { get; init; }

    public long CreatedAt { get; init; }

    /// <summary>The part of the library that it was made from, as JSON; null for certain tracks.</summary>
    public string? Part { get; init; }

    /// <summary>The mirror that is changed in it; null for a plan of its own.</summary>
    public long? MirrorId { get; init; }

    public int Tracks { get; init; }

    /// <summary>The run started from it; null for an open plan.</summary>
    public long? RunId { get; init; }

    public Target ReadTarget() =>
        JsonSerializer.Deserialize(Target, PlanningJson.Default.Target) ?? throw new InvalidDataException($"Plan {Id} has no target.");
}
