using System.Text.Json;
using Wergamon.Core.Planning;

namespace Wergamon.App.Convert;

public sealed record PlanRow
{
    public long Id { get; init; }

    public string Title { get; init; } = "";

    /// <summary>The target of the plan, as JSON; changing the target elsewhere does not affect it.</summary>
    public string Target { get; init; } = "";

    public string? OutputFolder { get; init; }

    public long CreatedAt { get; init; }

    /// <summary>The part of the library that it was made from, as JSON; null for certain tracks.</summary>
    public string? Part { get; init; }

    /// <summary>The mirror that is edited in it; null for an ordinary plan.</summary>
    public long? MirrorId { get; init; }

    public int Tracks { get; init; }

    /// <summary>The run started from it; null for an open plan.</summary>
    public long? RunId { get; init; }

    public Target ReadTarget() =>
        JsonSerializer.Deserialize(Target, PlanningJson.Default.Target) ?? throw new InvalidDataException($"Plan {Id} has no target.");
}
